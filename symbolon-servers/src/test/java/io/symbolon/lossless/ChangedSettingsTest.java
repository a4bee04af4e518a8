// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import static org.junit.jupiter.api.Assertions.assertEquals;

import io.symbolon.failure.SymbolonException;
import io.symbolon.lossless.KeyedText.Entry;
import io.symbolon.lossless.KeyedText.Fresh;
import io.symbolon.lossless.KeyedText.Value;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.Tuple;

/** Settings of every language, put together at random: a change changes what it is to change. */
class ChangedSettingsTest {
  /**
   * A language: how its files are read, what a file without settings is, whether it has sections.
   */
  enum Language {
    INI(KeyedLines.class, text -> lines(text, LineDialect.INI), "", true),
    ASSIGNMENTS(KeyedLines.class, text -> lines(text, LineDialect.ASSIGNMENTS), "# one\n", false),
    QUOTED(
        KeyedLines.class,
        text ->
            lines(
                text,
                LineDialect.ASSIGNMENTS
                    .withQuotes(LineDialect.Quotes.ALWAYS)
                    .withBraces()
                    .withComments("#", true)),
        "",
        true),
    WORDS(KeyedLines.class, text -> lines(text, LineDialect.WORDS), "", false),
    ENVIRONMENT(KeyedLines.class, text -> lines(text, LineDialect.ENVIRONMENT), "", false),
    OPTIONS(
        KeyedOptions.class,
        text -> new KeyedOptions(lines(text, LineDialect.WORDS), "listen"),
        "listen 1 old=2 plain # as=it was\r\n",
        false),
    PROPERTIES(KeyedDotted.class, text -> KeyedDotted.of(PropertiesText.read(text)), "", true),
    YAML(KeyedDotted.class, text -> KeyedDotted.of(YamlText.read(text)), "", true),
    JSON(JsonSettings.class, JsonSettings::read, "{}\n", true),
    TOML(TomlText.class, TomlText::read, "", true),
    XML(KeyedXml.class, KeyedXml::read, "<all/>\n", true);

    @SuppressWarnings("ImmutableEnumChecker") // a reader without any state
    private final Function<SourceText, KeyedText> reading;

    private final String empty;
    private final boolean sections;

    Language(
        Class<? extends KeyedText> type,
        Function<SourceText, KeyedText> reading,
        String empty,
        boolean sections) {
      this.reading = text -> type.cast(reading.apply(text));
      this.empty = empty;
      this.sections = sections;
    }

    private static KeyedText lines(SourceText text, LineDialect dialect) {
      return KeyedLines.read(text, dialect);
    }

    KeyedText read(String text) {
      return reading.apply(
          SourceText.of(Path.of("settings"), text.getBytes(StandardCharsets.UTF_8)));
    }

    List<String> key(String section, String name) {
      return switch (this) {
        case XML -> List.of("all", section, name);
        case OPTIONS -> List.of("listen " + section.length(), name);
        case PROPERTIES -> List.of(section + "." + name);
        default -> sections ? List.of(section, name) : List.of(section + "_" + name);
      };
    }
  }

  /** Settings by their keys, in the order in which they are added. */
  @Provide
  Arbitrary<Map<List<String>, String>> wanted() {
    Arbitrary<String> sections = Arbitraries.of("one", "three", "seventh");
    Arbitrary<String> names = Arbitraries.strings().withCharRange('a', 'f').ofLength(3);
    Arbitrary<String> values =
        Arbitraries.oneOf(
            Arbitraries.strings()
                .withChars("ab$ \"'\\{}();#&<>=éß/.:,-!%+")
                .ofMinLength(1)
                .ofMaxLength(14)
                .map(String::strip)
                .filter(text -> !text.isEmpty()),
            Arbitraries.of("/etc/tls/ingest.pem", "yes", "1.2", "null", "~", "0x1f", "a b", "*"));
    return Combinators.combine(sections, names, values)
        .as((section, name, value) -> Tuple.of(List.of(section, name), value))
        .list()
        .ofMinSize(1)
        .ofMaxSize(8)
        .map(
            all -> {
              Map<List<String>, String> map = new LinkedHashMap<>();
              all.forEach(one -> map.put(one.get1(), one.get2()));
              return map;
            });
  }

  private static Map<List<String>, String> settings(KeyedText text) {
    Map<List<String>, String> all = new LinkedHashMap<>();
    text.entries().forEach(one -> all.put(one.key(), one.value()));
    return all;
  }

  /** The text with these settings; nothing where the language has no way to write one of them. */
  private static Optional<String> with(Language language, Map<List<String>, String> wanted) {
    KeyedText text = language.read(language.empty);
    List<Fresh> fresh = new ArrayList<>();
    wanted.forEach((key, value) -> fresh.add(new Fresh(key, Value.of(value))));
    Edits edits = new Edits(text.source());
    try {
      text.change(edits, List.of(), fresh);
    } catch (SymbolonException e) {
      return Optional.empty();
    }
    return Optional.of(edits.apply());
  }

  @Property(tries = 3_000)
  void whatIsAddedReplacedAndTakenAwayIsReadBackAndAllElseStays(
      @ForAll Language language,
      @ForAll("wanted") Map<List<String>, String> random,
      @ForAll int away) {
    Map<List<String>, String> wanted = new LinkedHashMap<>();
    random.forEach((key, value) -> wanted.put(language.key(key.get(0), key.get(1)), value));
    Map<List<String>, String> before = settings(language.read(language.empty));
    Optional<String> written = with(language, wanted);
    if (written.isEmpty()) {
      return; // and told so
    }
    Map<List<String>, String> expected = new LinkedHashMap<>(before);
    expected.putAll(wanted);
    KeyedText text = language.read(written.get());
    assertEquals(
        expected,
        settings(text),
        () -> language + " " + expected + settings(text) + " of\n" + written.get());

    // Some go, one of the others gets another value, and one comes; in one change.
    List<Entry> gone = new ArrayList<>();
    Optional<Entry> other = Optional.empty();
    for (Entry one : text.entries()) {
      if ((away >> one.index() & 1) == 1) {
        gone.add(one);
        expected.remove(one.key());
      } else {
        other = Optional.of(one);
      }
    }
    List<String> key = language.key("seventh", "zzz");
    Edits edits = new Edits(text.source());
    try {
      other.ifPresent(one -> text.replace(edits, one, Value.of("another")));
      text.change(edits, gone, List.of(new Fresh(key, Value.of("fresh"))));
    } catch (IllegalArgumentException e) {
      throw new AssertionError(language + " without " + gone + " of\n" + written.get(), e);
    }
    other.ifPresent(one -> expected.put(one.key(), "another"));
    expected.put(key, "fresh");
    String changed = edits.apply();
    Map<List<String>, String> read = settings(language.read(changed));
    if (language == Language.XML) {
      read.values().removeIf(String::isEmpty); // elements with nothing left in them
    }
    assertEquals(
        expected,
        read,
        () -> language + " " + expected + read + " of\n" + written + "\n" + changed);
  }
}
