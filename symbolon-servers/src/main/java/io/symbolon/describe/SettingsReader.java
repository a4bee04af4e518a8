// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.describe.Description.Include;
import io.symbolon.describe.Description.Language;
import io.symbolon.describe.Description.Line;
import io.symbolon.describe.Description.ListItem;
import io.symbolon.describe.Description.SettingsPart;
import io.symbolon.describe.Description.WantedFile;
import io.symbolon.lossless.LineDialect;
import io.symbolon.server.place.Mode;
import io.symbolon.server.text.Placeholders;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** Reads what is to be in the settings files of a described server. */
final class SettingsReader {
  /** The section of a place, where places are sections. */
  static final String PLACE = "{place}";

  private static final Map<String, LineDialect> LINES =
      Map.of(
          "ini", LineDialect.INI,
          "assignments", LineDialect.ASSIGNMENTS,
          "words", LineDialect.WORDS,
          "environment", LineDialect.ENVIRONMENT);
  private static final Set<String> OTHERS = Set.of("properties", "yaml", "json", "toml", "xml");
  private static final Set<String> PLAIN =
      Set.of(
          "port",
          "clear-port",
          "address",
          "host",
          "protocols",
          "protocol.least",
          "protocol.most",
          "ciphers",
          "home",
          "folder",
          "account");
  private static final Set<String> OF_FILES =
      Set.of("path", "name", "alias", "password", "key-password", "password-file");

  private final Mistakes mistakes;
  private final Map<String, WantedFile> files;
  private final Set<String> turning;

  SettingsReader(Mistakes mistakes, Map<String, WantedFile> files, Set<String> turning) {
    this.mistakes = mistakes;
    this.files = files;
    this.turning = turning;
  }

  /** What is wrong with a path that is to lie in a folder. */
  static Optional<String> outside(String path) {
    boolean out = Arrays.asList(path.split("[/\\\\]", -1)).contains("..");
    return out
        ? Optional.of(YamlPart.quoted(path) + " leads out of its folder: .. is not taken.")
        : Optional.empty();
  }

  /** How names stand for values in a settings file. */
  private static final Map<String, Placeholders.Syntax> VARIABLES =
      Map.of(
          "postfix", Placeholders.Syntax.POSTFIX,
          "plain", Placeholders.Syntax.PLAIN,
          "colon", Placeholders.Syntax.COLON);

  SettingsPart read(YamlPart part, boolean inSections) {
    List<String> names =
        new ArrayList<>(
            List.of(
                "file",
                "made",
                "language",
                "comments",
                "comments-behind",
                "quotes",
                "begins",
                "braces",
                "continued",
                "options-behind",
                "includes",
                "new-settings-in",
                "twice",
                "names",
                "usual",
                "absent",
                "counts-instead",
                "variables",
                "paths-from",
                "add-to-lists",
                "separated-by"));
    for (When when : When.values()) {
      names.add(when.word());
    }
    part.only(names.toArray(String[]::new));
    String file = part.needed("file");
    outside(file).ifPresent(what -> part.wrong("file", what));
    part.text("new-settings-in")
        .flatMap(SettingsReader::outside)
        .ifPresent(what -> part.wrong("new-settings-in", what));
    Language language = language(part);
    List<Line> lines = new ArrayList<>();
    for (When when : When.values()) {
      for (YamlPart.Leaf leaf : part.leaves(when.word())) {
        line(when, leaf, language, inSections).ifPresent(lines::add);
      }
    }
    Map<List<String>, String> usual = new HashMap<>();
    part.leaves("usual").forEach(leaf -> usual.put(leaf.key(), leaf.values().get(0)));
    String separator = part.text("separated-by").orElse(",");
    List<ListItem> lists = new ArrayList<>();
    for (YamlPart.Leaf leaf : part.leaves("add-to-lists")) {
      for (String item : leaf.values()) {
        Template.mistake(item).ifPresent(what -> mistakes.add(leaf.line(), what));
        Template template = Template.of(item);
        for (String name : template.names()) {
          if (!name.equals("port") && !name.equals("address")) {
            mistakes.add(
                leaf.line(), "{" + name + "}: a word of a list has {port}, {address} alone.");
          }
        }
        lists.add(new ListItem(leaf.key(), template, separator));
      }
    }
    if (lines.isEmpty() && lists.isEmpty()) {
      part.wrong("always", "Nothing is to be in this file: 'always' is missing.");
    }
    return new SettingsPart(
        Template.of(file),
        part.yes("made"),
        language,
        part.parts("includes").stream().map(SettingsReader::include).toList(),
        part.text("new-settings-in"),
        part.word("twice", Set.of("first", "last")).orElse("last").equals("first"),
        part.word("names", Set.of("exact", "plain")).orElse("exact").equals("plain"),
        usual,
        lines,
        part.keys("absent"),
        part.keys("counts-instead"),
        part.word("variables", VARIABLES.keySet()).map(VARIABLES::get),
        part.word("paths-from", Set.of("file", "home")).orElse("file").equals("home"),
        lists);
  }

  private static Include include(YamlPart part) {
    part.only("key", "matching");
    part.text("matching")
        .flatMap(SettingsReader::outside)
        .ifPresent(what -> part.wrong("matching", what));
    return new Include(part.needed("key"), part.text("matching"));
  }

  private Language language(YamlPart part) {
    Set<String> known = new TreeSet<>(LINES.keySet());
    known.addAll(OTHERS);
    if (!part.has("language")) {
      part.wrong("language", "'language' is missing: " + String.join(", ", known) + ".");
    }
    String word = part.word("language", known).orElse("ini");
    LineDialect lines = LINES.get(word);
    if (lines == null) {
      for (String only :
          List.of(
              "comments",
              "comments-behind",
              "quotes",
              "begins",
              "braces",
              "continued",
              "options-behind",
              "includes",
              "new-settings-in")) {
        if (part.has(only)) {
          part.wrong(only, YamlPart.quoted(only) + " is for languages of lines.");
        }
      }
      return new Language(word, Optional.empty(), Optional.empty());
    }
    lines =
        lines.withComments(
            part.text("comments").orElse(lines.comments()), part.yes("comments-behind"));
    Optional<String> quotes =
        part.word("quotes", Set.of("none", "double", "always", "single", "shell"));
    if (quotes.isPresent()) {
      lines =
          lines.withQuotes(
              LineDialect.Quotes.valueOf(quotes.get().toUpperCase(java.util.Locale.ROOT)));
    }
    if (part.has("begins")) {
      lines = lines.beginningWith(part.needed("begins"));
    }
    if (part.yes("braces")) {
      lines = lines.withBraces();
    }
    if (part.yes("continued")) {
      lines = lines.withContinuedLines();
    }
    return new Language(word, Optional.of(lines), part.text("options-behind"));
  }

  private Optional<Line> line(When when, YamlPart.Leaf leaf, Language language, boolean sections) {
    List<Template> values = new ArrayList<>();
    for (String value : leaf.values()) {
      Template.mistake(value).ifPresent(what -> mistakes.add(leaf.line(), what));
      if (value.chars().anyMatch(c -> c < ' ')) {
        mistakes.add(leaf.line(), "A value stands on one line.");
      }
      Template template = Template.of(value);
      template.names().forEach(name -> placeholder(name, leaf.line()));
      values.add(template);
    }
    if (values.isEmpty()) {
      mistakes.add(leaf.line(), "A value is missing.");
      return Optional.empty();
    }
    int depth = leaf.key().size();
    boolean flat =
        language.lines().isPresent()
            && !language.lines().get().sections()
            && !language.lines().get().braces()
            && language.lines().get().begins().isEmpty()
            && language.options().isEmpty();
    if (flat && depth > 1) {
      mistakes.add(
          leaf.line(), "The language " + language.word() + " has no sections: name the key alone.");
    }
    if (leaf.key().contains(PLACE) && !sections) {
      mistakes.add(
          leaf.line(),
          "{place} is for the first settings file, where 'places' names its sections.");
    }
    boolean bare =
        (leaf.bare() && values.get(0).isConstant() && isBare(values.get(0).constant()))
            || values.get(0).isOnly("port");
    return Optional.of(new Line(when, leaf.key(), values, bare));
  }

  private static boolean isBare(String text) {
    return text.matches("true|false|-?\\d+(?:\\.\\d+)?");
  }

  private void placeholder(String name, int line) {
    int by = name.indexOf(" by ");
    String value = by < 0 ? name : name.substring(0, by);
    if (by >= 0 && !turning.contains(name.substring(by + 4))) {
      mistakes.add(line, "'turn' has no program that is called " + name.substring(by + 4) + ".");
    }
    int dot = value.indexOf('.');
    if (PLAIN.contains(value)) {
      return;
    }
    WantedFile file = dot < 0 ? null : files.get(value.substring(0, dot));
    if (file == null) {
      mistakes.add(line, "{" + name + "} names no file of 'files', and is nothing else either.");
      return;
    }
    String property = value.substring(dot + 1);
    if (!OF_FILES.contains(property)) {
      mistakes.add(
          line,
          "{" + name + "}: a file has " + String.join(", ", new TreeSet<>(OF_FILES)) + " alone.");
    } else if (property.contains("password") && !file.sealed()) {
      mistakes.add(line, "{" + name + "}: the file " + file.name() + " has no password.");
    } else if (property.equals("alias") && file.alias().isEmpty()) {
      mistakes.add(line, "{" + name + "}: say which alias, in 'files'.");
    }
  }

  /** What says one thing here and another there. */
  void contradictions(YamlPart whole, List<SettingsPart> parts) {
    for (SettingsPart part : parts) {
      for (Line line : part.lines()) {
        if (line.when() != When.SEEN && part.absent().contains(line.key())) {
          whole.wrong(
              "settings", "The key " + shown(line.key()) + " is to be there, and to be absent.");
        }
        for (Line other : part.lines()) {
          if (line.key().equals(other.key()) && contradict(line, other)) {
            whole.wrong(
                "settings",
                "The key "
                    + shown(line.key())
                    + " gets a value in "
                    + line.when().word()
                    + " and another in "
                    + other.when().word()
                    + ", which go together.");
          }
        }
      }
    }
    for (WantedFile file : files.values()) {
      boolean named =
          parts.stream()
              .flatMap(part -> part.lines().stream())
              .anyMatch(line -> line.written().names().stream().anyMatch(isOf(file)));
      if (!named && file.path().has("host")) {
        whole.wrong(
            "files",
            "No setting names the file "
                + file.name()
                + ": then its name is fixed, without {host}.");
      }
    }
    boolean tells =
        parts.stream()
            .flatMap(part -> part.lines().stream())
            .anyMatch(line -> line.when() == When.ALWAYS);
    if (!tells) {
      whole.wrong("settings", "'always' is missing: nothing would tell whether TLS is on.");
    }
  }

  /** Whether two values of one key would be written together; noted once for both. */
  private static boolean contradict(Line line, Line other) {
    if (line.when().compareTo(other.when()) >= 0) {
      return false;
    }
    boolean together = false;
    for (Mode mode : Mode.values()) {
      for (boolean lists : new boolean[] {true, false}) {
        together |= line.when().applies(mode, lists) && other.when().applies(mode, lists);
      }
    }
    boolean narrows =
        line.when() == When.ALWAYS
            && other.isConstant()
            && line.values().stream()
                .anyMatch(one -> one.toString().equals(other.written().toString()));
    return together && !narrows;
  }

  private static java.util.function.Predicate<String> isOf(WantedFile file) {
    return name -> name.startsWith(file.name() + ".path") || name.startsWith(file.name() + ".name");
  }

  static String shown(List<String> key) {
    return YamlPart.quoted(String.join(" / ", key));
  }
}
