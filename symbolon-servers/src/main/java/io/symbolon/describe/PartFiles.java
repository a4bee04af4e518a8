// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.describe.Description.SettingsPart;
import io.symbolon.limit.Limits;
import io.symbolon.lossless.DottedText;
import io.symbolon.lossless.JsonSettings;
import io.symbolon.lossless.KeyedDotted;
import io.symbolon.lossless.KeyedLines;
import io.symbolon.lossless.KeyedOptions;
import io.symbolon.lossless.KeyedText;
import io.symbolon.lossless.KeyedXml;
import io.symbolon.lossless.PropertiesText;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.TomlText;
import io.symbolon.lossless.YamlText;
import io.symbolon.server.machine.Include;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.text.Placeholders;
import io.symbolon.server.text.SettingsFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** A settings file of a described server, with those that it takes in, as they are. */
final class PartFiles {
  private final Machine machine;
  private final SettingsPart wanted;
  private final Path home;
  private final Path main;
  private final SettingsFiles files;
  private final List<KeyedText> texts = new ArrayList<>(); // in the order in which they count
  private final List<Found> found = new ArrayList<>();

  /**
   * A setting that is there.
   *
   * @param text the file it stands in
   * @param entry the setting
   */
  record Found(KeyedText text, KeyedText.Entry entry) {
    int line() {
      return text.source().line(entry.from());
    }
  }

  PartFiles(Machine machine, SettingsPart wanted, Path home, Path main, SettingsFiles files) {
    this.machine = machine;
    this.home = home;
    this.wanted = wanted;
    this.main = main;
    this.files = files;
    Optional<SourceText> source = wanted.made() ? files.find(main) : Optional.of(files.get(main));
    source.ifPresent(text -> read(text, new LinkedHashSet<>()));
  }

  private void read(SourceText source, Set<Path> around) {
    if (!around.add(source.path())) {
      throw files.loop(source.path());
    }
    if (around.size() > Limits.SETTING_DEPTH) {
      throw files.tooMany();
    }
    KeyedText text = text(source);
    texts.add(text);
    for (KeyedText.Entry entry : text.entries()) {
      Optional<Description.Include> include =
          wanted.includes().stream()
              .filter(one -> entry.key().get(entry.key().size() - 1).equals(one.key()))
              .findFirst();
      if (include.isEmpty()) {
        found.add(new Found(text, entry));
        continue;
      }
      for (Path path : included(include.get(), entry.value())) {
        files.find(path).ifPresent(one -> read(one, new LinkedHashSet<>(around)));
      }
    }
  }

  private List<Path> included(Description.Include include, String value) {
    Path folder = Optional.ofNullable(main.getParent()).orElse(main);
    if (include.matching().isPresent()) {
      return Include.matching(machine, machine.below(folder, value), include.matching().get());
    }
    return Include.isPattern(value)
        ? Include.matching(machine, folder, value).stream().filter(Files::isRegularFile).toList()
        : List.of(machine.below(folder, value));
  }

  KeyedText text(SourceText source) {
    return switch (wanted.language().word()) {
      case "properties" -> KeyedDotted.of(PropertiesText.read(source));
      case "yaml" -> KeyedDotted.of(YamlText.read(source));
      case "json" -> JsonSettings.read(source);
      case "toml" -> TomlText.read(source);
      case "xml" -> KeyedXml.read(source);
      default -> lines(KeyedLines.read(source, wanted.language().lines().orElseThrow()));
    };
  }

  private KeyedText lines(KeyedText lines) {
    return wanted
        .language()
        .options()
        .<KeyedText>map(key -> new KeyedOptions(lines, key))
        .orElse(lines);
  }

  SettingsPart wanted() {
    return wanted;
  }

  Path main() {
    return main;
  }

  SettingsFiles files() {
    return files;
  }

  /** The main file; nothing where it is to be made. */
  Optional<KeyedText> mainText() {
    return texts.stream().filter(one -> one.source().path().equals(main)).findFirst();
  }

  /** The file for new settings: its text where it is there already. */
  Optional<KeyedText> text(Path path) {
    return texts.stream().filter(one -> one.source().path().equals(path)).findFirst();
  }

  /** All settings, in the order in which they are read. */
  List<Found> all() {
    return List.copyOf(found);
  }

  /**
   * Whether a setting is one of the description: by its whole key, where any section may stand for
   * that of a place. The same name inside of something else is another setting.
   */
  boolean isOf(List<String> described, Found one) {
    List<String> there = one.entry().key();
    int place = described.indexOf(SettingsReader.PLACE);
    if (place < 0 || there.size() != described.size()) {
      return isSame(described, there);
    }
    List<String> inIt = new ArrayList<>(described);
    inIt.set(place, there.get(place));
    return isSame(inIt, there);
  }

  /** All settings under a key, in the order in which they are read. */
  List<Found> all(List<String> key) {
    return found.stream().filter(one -> isSame(key, one.entry().key())).toList();
  }

  /** Whether a key of the settings is the one of the description, in one of its spellings. */
  private boolean isSame(List<String> described, List<String> there) {
    if (described.size() != there.size()) {
      return false;
    }
    for (int i = 0; i < there.size(); i++) {
      String name = there.get(i);
      if (spellings(described.get(i)).stream().noneMatch(one -> isSame(one, name))) {
        return false;
      }
    }
    return true;
  }

  private boolean isSame(String described, String there) {
    int star = described.indexOf('*');
    if (star >= 0) {
      String start = described.substring(0, star);
      String end = described.substring(star + 1);
      return there.length() > start.length() + end.length()
          && there.startsWith(start)
          && there.endsWith(end);
    }
    return wanted.plainNames()
        ? DottedText.plain(described).equals(DottedText.plain(there))
        : described.equals(there);
  }

  /** The spellings of a part of a key; the first is the one that is written. */
  static List<String> spellings(String described) {
    return List.of(described.split("\\|", -1));
  }

  /** The setting under a key that counts. */
  Optional<Found> find(List<String> key) {
    List<Found> all = all(key);
    return all.isEmpty()
        ? Optional.empty()
        : Optional.of(wanted.firstWins() ? all.get(0) : all.get(all.size() - 1));
  }

  /** A value with what its names stand for, where the language has any; what is not known stays. */
  String resolved(String value) {
    return wanted.variables().isEmpty() || value.indexOf('$') < 0
        ? value
        : Placeholders.of(wanted.variables().get(), this::variable).known(value);
  }

  /** A name stands for another setting, or for the folder of the settings. */
  private Optional<String> variable(String name) {
    return find(List.of(name))
        .map(one -> one.entry().value())
        .or(
            () ->
                name.equals("config_directory")
                    ? Optional.ofNullable(main.getParent()).map(Path::toString)
                    : name.equals("jetty.base") ? Optional.of(home.toString()) : Optional.empty());
  }

  /** Sections outermost in the files, each once, with the file that they stand in. */
  List<Section> sections() {
    List<Section> sections = new ArrayList<>();
    Set<String> seen = new LinkedHashSet<>();
    for (KeyedText text : texts) {
      for (List<String> section : text.sections()) {
        if (section.size() == 1 && seen.add(section.get(0))) {
          sections.add(new Section(section.get(0), text));
        }
      }
    }
    return sections;
  }

  record Section(String name, KeyedText text) {
    int line() {
      return text.entries().stream()
          .filter(one -> one.key().get(0).equals(name))
          .findFirst()
          .map(one -> text.source().line(one.from()))
          .orElse(1);
    }
  }
}
