// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.artemis;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.XmlText;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.ClearPlaces;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.OpenPassword;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.text.SettingsFiles;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The acceptors of a broker.xml as they are. */
final class ArtemisReading {
  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final SourceText source;
  private final List<Finding> findings = new ArrayList<>();

  ArtemisReading(Machine machine, Installation installation) {
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), "Artemis");
    this.source = files.get(installation.main());
  }

  SettingsFiles files() {
    return files;
  }

  SourceText source() {
    return source;
  }

  List<Acceptor> acceptors() {
    List<Acceptor> all = new ArrayList<>();
    for (XmlText.Element core : XmlText.read(source).children("core")) {
      for (XmlText.Element group : core.children("acceptors")) {
        for (XmlText.Element one : group.children("acceptor")) {
          one.content()
              .flatMap(AcceptorAddress::of)
              .filter(address -> address.scheme().equals("tcp"))
              .ifPresent(address -> all.add(new Acceptor(one, address)));
        }
      }
    }
    return all;
  }

  Settings settings() {
    List<TlsPlace> places = acceptors().stream().map(this::place).toList();
    findings.addAll(ClearPlaces.findings("Artemis", places, place -> false));
    return new Settings(installation, places, files.paths(), findings);
  }

  TlsPlace place(Acceptor acceptor) {
    Origin origin = new Origin(installation.main(), acceptor.element().line());
    Mode mode = acceptor.mode();
    if (mode == Mode.ONE_WAY && acceptor.address().value("trustStorePath").isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.TRUST_WITHOUT_VERIFY,
              origin.toString(),
              "The acceptor "
                  + acceptor.name()
                  + " has a trustStorePath, and neither needClientAuth nor wantClientAuth is true:"
                  + " no client is asked for a certificate.",
              "Add needClientAuth=true or wantClientAuth=true, or take trustStorePath away."));
    }
    if (acceptor.address().value("keyStorePassword").filter(ArtemisReading::isOpen).isPresent()) {
      findings.add(
          OpenPassword.note(
              origin, "keyStorePassword", "Let nobody but the broker's account read broker.xml."));
    }
    return TlsPlace.at(
            PlaceId.at(installation.main(), acceptor.element().from()),
            origin,
            acceptor.name(),
            "acceptor")
        .endpoints(acceptor.endpoints())
        .mode(mode)
        .files(mode == Mode.CLEAR ? List.of() : used(acceptor.address(), origin))
        .protocols(acceptor.address().value("enabledProtocols"))
        .ciphers(acceptor.address().value("enabledCipherSuites"))
        .account(Artemis.account(machine, installation))
        .build();
  }

  private static boolean isOpen(String password) {
    return !password.startsWith("ENC(") && !password.startsWith("${");
  }

  private List<UsedFile> used(AcceptorAddress address, Origin origin) {
    List<UsedFile> used = new ArrayList<>();
    named(address, "keyStorePath", "keyStorePassword", FileRole.KEYSTORE, origin, used);
    named(address, "trustStorePath", "trustStorePassword", FileRole.TRUST, origin, used);
    named(address, "crlPath", "", FileRole.LISTS, origin, used);
    return used;
  }

  private void named(
      AcceptorAddress address,
      String setting,
      String password,
      FileRole role,
      Origin origin,
      List<UsedFile> used) {
    address
        .value(setting)
        .ifPresent(
            value -> {
              Path path = machine.below(installation.home(), value).toAbsolutePath().normalize();
              List<Secret> secret =
                  address
                      .value(password)
                      .filter(ArtemisReading::isOpen)
                      .map(word -> Secret.of(word.toCharArray(), origin.toString()))
                      .stream()
                      .toList();
              used.add(
                  UsedFile.of(role, path, setting, origin)
                      .withPasswords(secret)
                      .withAlias(
                          role == FileRole.KEYSTORE
                              ? address.value("keyStoreAlias")
                              : Optional.empty()));
            });
  }
}
