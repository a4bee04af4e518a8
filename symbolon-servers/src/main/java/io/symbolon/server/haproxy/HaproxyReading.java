// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.text.SettingsFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The bind lines of a HAProxy as they are. */
final class HaproxyReading {
  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final SourceText source;
  private final List<HaproxyText.Line> lines;
  private final List<Finding> findings = new ArrayList<>();

  HaproxyReading(Machine machine, Installation installation) {
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), "HAProxy");
    this.source = files.get(installation.main());
    this.lines = HaproxyText.read(source);
  }

  SettingsFiles files() {
    return files;
  }

  SourceText source() {
    return source;
  }

  List<HaproxyText.Line> lines() {
    return lines;
  }

  List<Bind> binds() {
    return lines.stream().filter(Bind::is).map(Bind::new).toList();
  }

  Settings settings() {
    List<TlsPlace> places = binds().stream().map(this::place).toList();
    return new Settings(installation, places, files.paths(), findings);
  }

  TlsPlace place(Bind bind) {
    Origin origin = origin(bind);
    judge(bind, origin);
    boolean tls = bind.mode() != Mode.CLEAR;
    return TlsPlace.at(
            PlaceId.at(installation.main(), bind.line().from()),
            origin,
            bind.line().name(),
            "bind line")
        .endpoints(bind.endpoints())
        .mode(bind.mode())
        .files(tls ? used(bind, origin) : List.of())
        .protocols(
            bind.value("ssl-min-ver")
                .map(version -> version + " and newer")
                .or(() -> defaults("ssl-default-bind-options")))
        .ciphers(bind.value("ciphers").or(() -> defaults("ssl-default-bind-ciphers")))
        .account(machine.account("root")) // it reads its files before it gives up its rights
        .build();
  }

  Origin origin(Bind bind) {
    return new Origin(installation.main(), source.line(bind.line().from()));
  }

  private Optional<String> defaults(String name) {
    return global(name)
        .map(
            line ->
                String.join(" ", line.words().stream().skip(1).map(word -> word.value()).toList()));
  }

  private Optional<HaproxyText.Line> global(String name) {
    return lines.stream()
        .filter(line -> line.section().equals("global") && line.word(0).equals(name))
        .reduce((first, last) -> last);
  }

  private void judge(Bind bind, Origin origin) {
    if (!bind.has("ssl") && bind.has("crt")) {
      findings.add(
          Finding.of(
              FindingKind.SETTING_IGNORED,
              Level.WARNING,
              origin.toString(),
              "The bind line names a certificate and lacks the word ssl: it speaks clear text.",
              "Put ssl before crt, or take crt away."));
    }
    boolean verifies = bind.value("verify").filter(one -> !one.equals("none")).isPresent();
    if (bind.has("ca-file") && !verifies) {
      findings.add(
          Finding.of(
              FindingKind.TRUST_WITHOUT_VERIFY,
              origin.toString(),
              "The bind line has a ca-file and no verify: no client is asked for a certificate.",
              "Add verify required or verify optional, or take ca-file away."));
    }
  }

  private List<UsedFile> used(Bind bind, Origin origin) {
    List<UsedFile> used = new ArrayList<>();
    for (int place : bind.places("crt")) {
      Path path = based(bind.line().word(place + 1), "crt-base");
      List<Path> all = Files.isDirectory(path) ? machine.files().list(path) : List.of(path);
      for (Path one : all) {
        used.add(UsedFile.of(FileRole.KEYSTORE, one, "crt", origin).readByRoot());
        Path beside = one.resolveSibling(one.getFileName() + ".key");
        if (machine.files().exists(beside)) {
          used.add(UsedFile.of(FileRole.KEY, beside, "crt", origin).readByRoot());
        }
      }
    }
    named(bind, "ca-file", FileRole.TRUST, origin, used);
    named(bind, "crl-file", FileRole.LISTS, origin, used);
    return used;
  }

  private void named(Bind bind, String option, FileRole role, Origin origin, List<UsedFile> used) {
    bind.value(option)
        .ifPresent(
            value ->
                used.add(UsedFile.of(role, based(value, "ca-base"), option, origin).readByRoot()));
  }

  /** A name that is not whole is looked for in a folder that the global section names. */
  private Path based(String value, String base) {
    Path folder =
        global(base)
            .map(line -> machine.below(installation.home(), line.word(1)))
            .orElse(installation.home());
    return machine.below(folder, value).toAbsolutePath().normalize();
  }
}
