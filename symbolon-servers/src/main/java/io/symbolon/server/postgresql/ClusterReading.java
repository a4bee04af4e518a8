// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postgresql;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.Directive;
import io.symbolon.probe.StartWith;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Where a cluster speaks TLS, and what its settings get wrong. */
final class ClusterReading {
  private static final int USUAL_PORT = 5432;

  private final Installation installation;
  private final Cluster cluster;
  private final List<Directive> lines;
  private final List<Finding> findings = new ArrayList<>();

  ClusterReading(Installation installation, Cluster cluster) {
    this.installation = installation;
    this.cluster = cluster;
    this.lines =
        cluster.files().find(cluster.hba()).map(HbaText::read).orElse(List.of()).stream()
            .filter(HbaText::isNetwork)
            .toList();
  }

  List<Directive> lines() {
    return lines;
  }

  Settings settings() {
    TlsPlace place = place();
    judge(place);
    // What ALTER SYSTEM writes is nobody's to edit.
    List<Path> files =
        cluster.files().paths().stream().filter(path -> !path.endsWith(Cluster.AUTO)).toList();
    return new Settings(installation, List.of(place), files, findings);
  }

  TlsPlace place() {
    boolean tls = cluster.isOn("ssl");
    return TlsPlace.at(
            PlaceId.only(installation.main(), "cluster"),
            new Origin(
                cluster.setting("ssl").map(one -> one.source().path()).orElse(installation.main()),
                cluster.setting("ssl").map(Directive::line).orElse(1)),
            name(),
            "cluster")
        .endpoints(endpoints(tls))
        .mode(tls ? mode() : Mode.CLEAR)
        .files(tls ? files() : List.of())
        .protocols(Optional.of(versions()))
        .ciphers(cluster.setting("ssl_ciphers").map(one -> one.value(0)))
        .account(cluster.machine().account(cluster.account()))
        .startWith(Optional.of(StartWith.POSTGRESQL))
        .build();
  }

  private String name() {
    String folder = String.valueOf(installation.home().getFileName());
    Path parent = installation.home().getParent();
    String version = parent == null ? "" : String.valueOf(parent.getFileName());
    return version.matches("\\d+") ? version + "/" + folder : folder;
  }

  private List<Endpoint> endpoints(boolean tls) {
    int port;
    try {
      port = Integer.parseInt(cluster.value("port", String.valueOf(USUAL_PORT)));
    } catch (NumberFormatException e) {
      port = USUAL_PORT;
    }
    List<Endpoint> endpoints = new ArrayList<>();
    for (String host : cluster.value("listen_addresses", "localhost").split(",", -1)) {
      String name = host.strip();
      if (!name.isEmpty()) {
        endpoints.add(new Endpoint(name.equals("*") ? "" : name, port, tls));
      }
    }
    return endpoints;
  }

  Mode mode() {
    if (cluster.value("ssl_ca_file", "").isEmpty()) {
      return Mode.ONE_WAY;
    }
    List<Directive> open = lines.stream().filter(line -> !HbaText.isReject(line)).toList();
    boolean all = !open.isEmpty() && open.stream().allMatch(HbaText::wantsCertificate);
    return all ? Mode.MUTUAL : Mode.OPTIONAL;
  }

  private String versions() {
    String least = cluster.value("ssl_min_protocol_version", "TLSv1.2");
    String most = cluster.value("ssl_max_protocol_version", "");
    return least + (most.isEmpty() ? " and newer" : " to " + most);
  }

  private List<UsedFile> files() {
    List<UsedFile> files = new ArrayList<>();
    add(files, "ssl_cert_file", FileRole.CERTIFICATE, "server.crt");
    add(files, "ssl_key_file", FileRole.KEY, "server.key");
    if (mode().asksClients()) {
      add(files, "ssl_ca_file", FileRole.TRUST, "");
      add(files, "ssl_crl_file", FileRole.LISTS, "");
    }
    return files;
  }

  private void add(List<UsedFile> files, String setting, FileRole role, String usual) {
    String value = cluster.value(setting, usual);
    if (!value.isEmpty()) {
      Origin origin =
          cluster
              .setting(setting)
              .map(one -> new Origin(one.source().path(), one.line()))
              .orElse(new Origin(installation.main(), 1));
      files.add(UsedFile.of(role, cluster.resolve(value), setting, origin));
    }
  }

  private void judge(TlsPlace place) {
    String where = place.origin().toString();
    if (!place.isTls()) {
      find(
          FindingKind.CLEAR_TEXT_OPEN,
          where,
          "ssl is off: passwords and data pass in clear text.",
          "Switch it on: symbolon configure postgresql " + Input.CREDENTIAL.mention("FILE..."));
      return;
    }
    if (!cluster.value("ssl_passphrase_command", "").isEmpty()
        && !cluster.isOn("ssl_passphrase_command_supports_reload")) {
      cluster
          .setting("ssl_passphrase_command")
          .ifPresent(
              one ->
                  find(
                      FindingKind.SETTING_IGNORED,
                      new Origin(one.source().path(), one.line()).toString(),
                      "A reload does not ask for the password of the key: it keeps the old files.",
                      "Write: ssl_passphrase_command_supports_reload = on"));
    }
    String least = cluster.value("ssl_min_protocol_version", "TLSv1.2");
    if (Map.of("tlsv1", 1, "tlsv1.1", 1, "", 1).containsKey(least.toLowerCase(Locale.ROOT))) {
      find(
          FindingKind.OLD_PROTOCOLS,
          where,
          "It takes " + (least.isEmpty() ? "every version" : least + " and newer") + ".",
          "Write: ssl_min_protocol_version = 'TLSv1.2'");
    }
    boolean four = false; // whether clear text over these was turned away before
    boolean six = false;
    for (Directive line : lines) {
      if (HbaText.rejectsClearText(line)) {
        String address = HbaText.address(line);
        four |= address.equals("all") || address.equals("0.0.0.0/0");
        six |= address.equals("all") || address.equals("::/0");
      }
      boolean isSix = HbaText.address(line).indexOf(':') >= 0;
      boolean away = isSix ? six : HbaText.address(line).matches("[0-9./]+") ? four : four && six;
      if (HbaText.takesClearText(line) && !away) {
        findings.add(
            Finding.of(
                FindingKind.CLEAR_TEXT_OPEN,
                isLoopback(line) ? Level.NOTE : Level.WARNING,
                new Origin(line.source().path(), line.line()).toString(),
                "A line of the kind " + line.name() + " takes clients in clear text as well.",
                "Write hostssl instead of " + line.name() + " where clients are to use TLS."));
      }
    }
    findings.addAll(RoleLines.findings(cluster, lines));
    if (place.mode() == Mode.OPTIONAL) {
      find(
          FindingKind.OPTIONAL_CLIENTS,
          where,
          "ssl_ca_file is set, and not every line of pg_hba.conf requires a client's certificate.",
          "Write clientcert=verify-ca behind the hostssl lines that are to require one.");
    }
  }

  private static boolean isLoopback(Directive line) {
    return line.values().stream()
        .anyMatch(
            word -> word.startsWith("127.") || word.startsWith("::1") || word.equals("localhost"));
  }

  private void find(FindingKind kind, String where, String statement, String advice) {
    findings.add(Finding.of(kind, where, statement, advice));
  }
}
