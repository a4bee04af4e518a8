// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postgresql;

import io.symbolon.limit.Limits;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.LineText;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.text.SettingsFiles;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** All settings of a PostgreSQL cluster, in the order in which the last one of a name counts. */
final class Cluster {
  /** The file that the server itself writes. */
  static final String AUTO = "postgresql.auto.conf";

  private static final String OWN_FILE = "10-tls.conf";

  private final Machine machine;
  private final Path main;
  private final SettingsFiles files;
  private final List<Directive> settings = new ArrayList<>();
  private final List<Path> folders = new ArrayList<>();
  private int included;

  Cluster(Machine machine, Path main) {
    this.machine = machine;
    this.main = main;
    this.files = new SettingsFiles(machine.files(), "PostgreSQL");
    read(main, List.of());
    // What ALTER SYSTEM has written counts last of all.
    Path data = data();
    files.find(data.resolve(AUTO)).ifPresent(source -> settings.addAll(LineText.read(source)));
  }

  private void read(Path path, List<Path> above) {
    if (above.contains(path)) {
      throw files.loop(path);
    }
    if (++included > Limits.SETTINGS_FILES) {
      throw files.tooMany();
    }
    List<Path> here = new ArrayList<>(above);
    here.add(path);
    for (Directive one : LineText.read(files.get(path))) {
      switch (one.name().toLowerCase(Locale.ROOT)) {
        case "include" -> read(beside(path, one.value(0)), here);
        case "include_if_exists" -> {
          Path target = beside(path, one.value(0));
          if (machine.files().exists(target)) {
            read(target, here);
          }
        }
        case "include_dir" -> {
          Path target = beside(path, one.value(0));
          folders.add(target);
          for (Path each : machine.files().list(target)) {
            String name = String.valueOf(each.getFileName());
            if (name.endsWith(".conf") && !name.startsWith(".")) {
              read(each, here);
            }
          }
        }
        default -> settings.add(one);
      }
    }
  }

  private Path beside(Path file, String text) {
    return machine.below(Optional.ofNullable(file.getParent()).orElse(file), text);
  }

  Machine machine() {
    return machine;
  }

  SettingsFiles files() {
    return files;
  }

  List<Directive> settings() {
    return settings;
  }

  /** The setting of that name that counts. */
  Optional<Directive> setting(String name) {
    Optional<Directive> last = Optional.empty();
    for (Directive one : settings) {
      if (one.is(name)) {
        last = Optional.of(one);
      }
    }
    return last;
  }

  String value(String name, String otherwise) {
    return setting(name).map(one -> one.value(0)).orElse(otherwise);
  }

  boolean isOn(String name) {
    return List.of("on", "true", "yes", "1", "t", "tr", "tru", "y", "ye")
        .contains(value(name, "off").toLowerCase(Locale.ROOT));
  }

  /** The folder with the cluster's data: where relative names begin. */
  Path data() {
    String own = value("data_directory", "");
    if (!own.isEmpty()) {
      return machine.below(machine.root(), own);
    }
    return Optional.ofNullable(main.getParent()).orElse(main);
  }

  Path resolve(String text) {
    return machine.below(data(), text);
  }

  /** Who may come in. */
  Path hba() {
    return beside("hba_file", "pg_hba.conf");
  }

  /** Where the names of certificates are turned into those of roles. */
  Path ident() {
    return beside("ident_file", "pg_ident.conf");
  }

  /** Beside the main file, or with the data where the server was started with both. */
  private Path beside(String setting, String name) {
    String own = value(setting, "");
    if (!own.isEmpty()) {
      return resolve(own);
    }
    Path path = Optional.ofNullable(main.getParent()).orElse(main).resolve(name);
    Path other = data().resolve(name);
    return !machine.files().exists(path) && machine.files().exists(other) ? other : path;
  }

  /** The number of its version before the point; nothing where its data do not say it. */
  Optional<Integer> version() {
    return machine
        .files()
        .read(data().resolve("PG_VERSION"))
        .map(file -> new String(file.octets(), StandardCharsets.US_ASCII).strip())
        .map(text -> text.replaceFirst("\\..*", ""))
        .filter(text -> text.matches("[0-9]{1,4}"))
        .map(Integer::valueOf);
  }

  /** The account that the server runs as: the one that controls its data. */
  String account() {
    return machine.accountOf(data()).orElse("postgres");
  }

  /** The file for the settings of TLS, where the main file takes a folder in. */
  Optional<Path> ownFile() {
    return folders.stream().findFirst().map(folder -> folder.resolve(OWN_FILE));
  }

  SourceText main() {
    return files.get(main);
  }
}
