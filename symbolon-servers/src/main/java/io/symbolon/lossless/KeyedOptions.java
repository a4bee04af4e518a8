// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Lines of which some have options behind their first word. Each of these lines is a section, which
 * is named by its key and that word, and its options are the settings in it.
 *
 * <pre>
 * line   = key blank word *( blank option ) [ blank "#" comment ]
 * option = name [ "=" value ]      ; without blanks; a name alone has the empty value
 * </pre>
 */
public final class KeyedOptions implements KeyedText {
  private static final Pattern WORD = Pattern.compile("\\S+");

  private final KeyedText lines;
  private final String key;
  private final List<Entry> entries = new ArrayList<>();
  private final Map<Integer, Entry> whole = new LinkedHashMap<>(); // by our index
  private final Map<Integer, Option> options = new LinkedHashMap<>(); // by our index
  private final Map<List<String>, Line> sections = new LinkedHashMap<>();

  /** Where an option is: with the blanks before it, and its value. */
  private record Option(int from, int valueFrom, int to, boolean sign) {}

  /** A line with options: where its first word ends, and where each of its options does. */
  private record Line(int wordEnd, List<Integer> indexes) {}

  /**
   * Tells the options apart.
   *
   * @param lines the lines; the key stands outside of their sections
   * @param key the key whose lines have options
   */
  public KeyedOptions(KeyedText lines, String key) {
    this.lines = lines;
    this.key = key;
    for (Entry entry : lines.entries()) {
      boolean told =
          entry.key().equals(List.of(key))
              && source().text().startsWith(entry.value(), entry.from())
              && !entry.value().isBlank();
      if (told) {
        line(entry);
      } else {
        whole.put(entries.size(), entry);
        entries.add(new Entry(entry.key(), entry.value(), entry.from(), entries.size()));
      }
    }
  }

  private void line(Entry entry) {
    Matcher words = WORD.matcher(entry.value());
    boolean found = words.find();
    String section = key + " " + (found ? words.group() : "");
    int end = entry.from() + words.end();
    List<Integer> indexes = new ArrayList<>();
    int behind = end;
    while (words.find() && !words.group().startsWith("#")) { // the rest is a comment
      String option = words.group();
      int sign = option.indexOf('=');
      String name = sign < 0 ? option : option.substring(0, sign);
      int start = entry.from() + words.start();
      int valueFrom = sign < 0 ? entry.from() + words.end() : start + sign + 1;
      int index = entries.size();
      options.put(index, new Option(behind, valueFrom, entry.from() + words.end(), sign >= 0));
      entries.add(
          new Entry(
              List.of(section, name), sign < 0 ? "" : option.substring(sign + 1), start, index));
      indexes.add(index);
      behind = entry.from() + words.end();
    }
    sections.putIfAbsent(List.of(section), new Line(end, indexes));
  }

  @Override
  public SourceText source() {
    return lines.source();
  }

  @Override
  public List<Entry> entries() {
    return List.copyOf(entries);
  }

  @Override
  public List<List<String>> sections() {
    List<List<String>> all = new ArrayList<>(lines.sections());
    all.addAll(sections.keySet());
    return all;
  }

  @Override
  public void replace(Edits edits, Entry old, Value value) {
    Option option = options.get(old.index());
    if (option == null) {
      lines.replace(edits, original(old), value);
    } else {
      edits.replace(
          option.valueFrom(),
          option.to(),
          (option.sign() || value.text().isEmpty() ? "" : "=") + written(value.text()));
    }
  }

  private Entry original(Entry entry) {
    return Optional.ofNullable(whole.get(entry.index())).orElseThrow();
  }

  @Override
  public void change(Edits edits, Collection<Entry> away, List<Fresh> fresh) {
    List<Entry> others = new ArrayList<>();
    for (Entry one : away) {
      Option option = options.get(one.index());
      if (option == null) {
        others.add(original(one));
      } else {
        edits.replace(option.from(), option.to(), "");
      }
    }
    Map<String, StringBuilder> added = new LinkedHashMap<>();
    List<Fresh> plain = new ArrayList<>();
    for (Fresh one : fresh) {
      String section = one.key().get(0);
      if (one.key().size() == 2 && section.startsWith(key + " ")) {
        String value = written(one.value().text());
        added
            .computeIfAbsent(section, name -> new StringBuilder())
            .append(' ')
            .append(one.key().get(1))
            .append(value.isEmpty() ? "" : "=" + value);
      } else {
        plain.add(one);
      }
    }
    added.forEach(
        (section, text) -> {
          Line line = sections.get(List.of(section));
          if (line == null) {
            String word = section.substring(key.length() + 1);
            plain.add(new Fresh(List.of(key), Value.of(word + text)));
          } else {
            edits.insert(end(line, away), text.toString());
          }
        });
    lines.change(edits, others, plain);
  }

  /** Behind the last option that stays. */
  private int end(Line line, Collection<Entry> away) {
    int end = line.wordEnd();
    for (int index : line.indexes()) {
      if (away.stream().noneMatch(one -> one.index() == index)) {
        end = Optional.ofNullable(options.get(index)).orElseThrow().to();
      }
    }
    return end;
  }

  private String written(String value) {
    if (value.chars().allMatch(c -> c > ' ' && c != '#' && c != '"' && c != '\'')) {
      return value;
    }
    throw new SymbolonException(
        Reason.NOT_WRITABLE,
        "The file " + VisibleText.of(source().path().toString()) + " was not changed.",
        "Options behind "
            + VisibleText.of(key)
            + " have no blanks in them, and the value is "
            + VisibleText.of(value)
            + ".",
        "Choose a path or a word of plain letters.");
  }
}
