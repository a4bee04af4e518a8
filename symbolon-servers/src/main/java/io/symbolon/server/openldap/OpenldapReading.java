// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.openldap;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.SourceText;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.probe.StartWith;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.text.SettingsFiles;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The settings for TLS of an OpenLDAP, as its folder keeps them. */
final class OpenldapReading {
  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final SourceText source;
  private final ConfigEntry entry;
  private final LdapServices services;
  private final List<Finding> findings = new ArrayList<>();

  OpenldapReading(Machine machine, Installation installation) {
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), "OpenLDAP");
    this.source = files.get(installation.main());
    this.entry = ConfigEntry.read(source);
    this.services = new LdapServices(machine, installation);
  }

  SourceText source() {
    return source;
  }

  ConfigEntry entry() {
    return entry;
  }

  LdapServices services() {
    return services;
  }

  Settings settings() {
    return new Settings(installation, List.of(place()), files.paths(), findings);
  }

  TlsPlace place() {
    Mode mode = mode();
    boolean tls = mode != Mode.CLEAR;
    Origin origin = origin("olcTLSCertificateFile");
    judge(mode, origin);
    List<Endpoint> atOnce = services.endpoints(tls, true);
    return TlsPlace.at(PlaceId.only(installation.main(), "server"), origin, "openldap", "server")
        .endpoints(atOnce.isEmpty() ? services.endpoints(tls, false) : atOnce)
        .mode(mode)
        .files(tls ? used() : List.of())
        .protocols(entry.text("olcTLSProtocolMin").map(one -> version(one) + " and newer"))
        .ciphers(entry.text("olcTLSCipherSuite"))
        .account(Openldap.account(machine, installation))
        .startWith(atOnce.isEmpty() ? Optional.of(StartWith.LDAP) : Optional.empty())
        .build();
  }

  private static String version(String written) {
    return Arrays.stream(ProtocolVersion.values())
        .filter(one -> written.equals(Openldap.counted(one)))
        .findFirst()
        .map(ProtocolVersion::platformName)
        .orElse(written);
  }

  private Origin origin(String attribute) {
    return new Origin(
        installation.main(), entry.value(attribute).map(ConfigEntry.Value::line).orElse(1));
  }

  private Mode mode() {
    boolean tls =
        entry.text("olcTLSCertificateFile").isPresent()
            && entry.text("olcTLSCertificateKeyFile").isPresent();
    if (!tls) {
      return Mode.CLEAR;
    }
    return switch (entry.text("olcTLSVerifyClient").orElse("never").toLowerCase(Locale.ROOT)) {
      case "demand", "hard", "true" -> Mode.MUTUAL;
      case "try", "allow" -> Mode.OPTIONAL;
      default -> Mode.ONE_WAY;
    };
  }

  private void judge(Mode mode, Origin origin) {
    boolean asks = mode == Mode.MUTUAL || mode == Mode.OPTIONAL;
    if (asks
        && entry.text("olcTLSCACertificateFile").isEmpty()
        && entry.text("olcTLSCACertificatePath").isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.VERIFY_WITHOUT_TRUST,
              origin.toString(),
              "OpenLDAP asks clients for a certificate and has no olcTLSCACertificateFile: it trusts"
                  + " no client's certificate.",
              "Name the authorities: " + Input.CLIENT_AUTHORITIES.mention("FILE") + "."));
    }
    if (entry.text("olcTLSVerifyClient").filter("allow"::equalsIgnoreCase).isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.SETTING_IGNORED,
              Level.WARNING,
              origin("olcTLSVerifyClient").toString(),
              "olcTLSVerifyClient is allow: a client with a bad certificate gets in as well.",
              "Use try for clients that may show one, or demand."));
    }
  }

  private List<UsedFile> used() {
    List<UsedFile> used = new ArrayList<>();
    named("olcTLSCertificateFile", FileRole.CERTIFICATE, used);
    named("olcTLSCertificateKeyFile", FileRole.KEY, used);
    named("olcTLSCACertificateFile", FileRole.TRUST, used);
    named("olcTLSCRLFile", FileRole.LISTS, used);
    return used;
  }

  private void named(String attribute, FileRole role, List<UsedFile> used) {
    entry
        .text(attribute)
        .ifPresent(
            value -> {
              Path path = machine.below(installation.home(), value).toAbsolutePath().normalize();
              used.add(UsedFile.of(role, path, attribute, origin(attribute)));
            });
  }
}
