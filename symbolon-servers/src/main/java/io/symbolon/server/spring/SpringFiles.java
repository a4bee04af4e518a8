// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.spring;

import io.symbolon.lossless.DottedText;
import io.symbolon.lossless.PropertiesText;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.YamlText;
import io.symbolon.server.Installation;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Origin;
import io.symbolon.server.text.Placeholders;
import io.symbolon.server.text.SettingsFiles;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;

/**
 * The settings of a program on Spring Boot: those in its jar, those beside it and those in the
 * folder {@code config}, each overruling what comes before.
 */
final class SpringFiles {
  /** Names of settings files, the later overruling the earlier. */
  static final List<String> NAMES =
      List.of("application.yml", "application.yaml", "application.properties");

  private static final Pattern PROFILE =
      Pattern.compile("application-[^/]+\\.(?:yml|yaml|properties)");
  private static final Pattern FILE_NAME = Pattern.compile("\\w[\\w.-]*");

  private final Placeholders names =
      Placeholders.of(
          Placeholders.Syntax.COLON.escapedBy("\\$"),
          name -> setting(name).map(one -> one.named().value()).or(() -> tree(name)));
  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final Optional<PackagedJar> jar;
  private final List<DottedText> documents = new ArrayList<>(); // the last one counts most
  private final List<Path> profiles = new ArrayList<>();

  /** A setting that counts. */
  record Setting(DottedText document, DottedText.Named named) {
    Origin origin() {
      return new Origin(document.source().path(), document.source().line(named.from()));
    }
  }

  SpringFiles(Machine machine, Installation installation) {
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), "the program");
    this.jar = installation.program().flatMap(PackagedJar::of);
    jar.ifPresent(packaged -> packaged.settings().forEach(this::take));
    Set<Path> seen = new TreeSet<>();
    for (Path folder : List.of(installation.home(), installation.home().resolve("config"))) {
      for (String name : NAMES) {
        read(folder.resolve(name), seen);
      }
      profiles(folder);
    }
    read(installation.main(), seen);
  }

  /** A program reads properties by octets, one letter each. */
  static SourceText text(Path path, byte[] octets) {
    return path.toString().endsWith(".properties")
        ? SourceText.of(path, octets, StandardCharsets.ISO_8859_1)
        : SourceText.of(path, octets);
  }

  private void read(Path path, Set<Path> seen) {
    if (seen.add(path.toAbsolutePath().normalize()) && machine.files().exists(path)) {
      files.find(path, SpringFiles::text).ifPresent(this::take);
    }
  }

  private void take(SourceText source) {
    documents.add(
        source.path().toString().endsWith(".properties")
            ? PropertiesText.read(source)
            : YamlText.read(source));
  }

  private void profiles(Path folder) {
    if (Files.isDirectory(folder)) {
      machine.files().list(folder).stream()
          .filter(path -> PROFILE.matcher(String.valueOf(path.getFileName())).matches())
          .forEach(profiles::add);
    }
  }

  SettingsFiles files() {
    return files;
  }

  Optional<PackagedJar> jar() {
    return jar;
  }

  /** Files that count only where their profile is on. */
  List<Path> profiles() {
    return profiles;
  }

  List<DottedText> documents() {
    return documents;
  }

  /** Whether a file can be changed: what is in a jar can't. */
  boolean isWritable(DottedText document) {
    return files.find(document.source().path()).filter(one -> one == document.source()).isPresent();
  }

  /** The file into which new settings go: the one that counts most, if there is one. */
  Optional<DottedText> main() {
    return documents.stream().filter(this::isWritable).reduce((first, second) -> second);
  }

  /** The value of a name that counts in the end. */
  Optional<Setting> setting(String name) {
    return all(name).stream().reduce((first, second) -> second);
  }

  /** All values of a name, the later overruling the earlier. */
  List<Setting> all(String name) {
    String plain = DottedText.plain(name);
    List<Setting> found = new ArrayList<>();
    for (DottedText document : documents) {
      document.settings().stream()
          .filter(one -> one.plainName().equals(plain) && isAlways(document, one))
          .forEach(one -> found.add(new Setting(document, one)));
    }
    return found;
  }

  /** Whether any setting begins with a name and a dot. */
  boolean hasBelow(String name) {
    String plain = DottedText.plain(name) + ".";
    return documents.stream()
        .flatMap(document -> document.settings().stream())
        .anyMatch(one -> one.plainName().startsWith(plain));
  }

  /** A document of a file may count only with a profile or on a platform. */
  private static boolean isAlways(DottedText document, DottedText.Named one) {
    return document.settings().stream()
        .filter(other -> other.document() == one.document())
        .noneMatch(
            other ->
                other.plainName().startsWith("spring.config.activate.")
                    || other.plainName().equals("spring.profiles"));
  }

  /** The text of a setting with what its names stand for; nothing where one is not known. */
  Optional<String> value(String name) {
    return setting(name)
        .map(one -> one.named().value())
        .or(() -> tree(name))
        .flatMap(this::resolved);
  }

  String word(String name) {
    return value(name).orElse("").strip().toLowerCase(java.util.Locale.ROOT);
  }

  Optional<String> resolved(String text) {
    return names.resolved(text);
  }

  /** A value in a folder of files, each called after its setting. */
  private Optional<String> tree(String name) {
    if (!FILE_NAME.matcher(name).matches()) {
      return Optional.empty(); // nothing leads out of that folder
    }
    for (Setting one : all("spring.config.import")) {
      for (String place : one.named().value().split(",", -1)) {
        String text = place.strip().replaceFirst("^optional:", "");
        if (text.startsWith("configtree:")) {
          Path file = path(text.substring("configtree:".length())).resolve(name);
          Optional<FileView.ReadFile> read = machine.files().read(file);
          if (read.isPresent()) {
            return Optional.of(
                new String(read.get().octets(), StandardCharsets.UTF_8).replaceFirst("\\R$", ""));
          }
        }
      }
    }
    return Optional.empty();
  }

  /** A file as the program finds it: below the folder where it is started. */
  Path path(String text) {
    String plain = text.replaceFirst("^file:(?://(?=/))?", "");
    boolean drive = plain.matches("/[A-Za-z]:/.*") && machine.isWindows(); // file:///C:/
    return machine.below(installation.home(), drive ? plain.substring(1) : plain);
  }
}
