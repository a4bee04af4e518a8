// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.limit.Limits;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Settings in TOML.
 *
 * <pre>
 * file    = *( blank-line / comment / table / setting )
 * table   = "[" key "]"  /  "[[" key "]]"       ; the second form has its number in brackets behind
 * setting = key "=" value [ comment ]
 * key     = part *( "." part )                  ; bare, or in quotes
 * value   = text in one of four quotes / array / inline table / word
 * </pre>
 *
 * <p>Arrays and inline tables are values as they are written: what stands in them is not taken
 * apart.
 */
public final class TomlText implements KeyedText {
  private final SourceText source;
  private final String text;
  private final List<Line> lines = new ArrayList<>();
  private final Map<List<String>, Integer> ends = new LinkedHashMap<>(); // behind its last setting
  private int at;

  private record Line(Entry entry, int table, int from, int valueFrom, int valueTo) {}

  private TomlText(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /**
   * {@return the settings of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not TOML, with line and column
   */
  public static TomlText read(SourceText source) {
    TomlText reader = new TomlText(source);
    reader.read();
    return reader;
  }

  private void read() {
    List<String> table = List.of();
    Map<List<String>, Integer> counts = new HashMap<>();
    ends.put(table, 0);
    while (at < text.length()) {
      blanks();
      int start = at;
      if (at >= text.length() || isEnd()) {
        at = next();
        continue;
      }
      if (text.charAt(at) == '[') {
        boolean several = text.startsWith("[[", at);
        at += several ? 2 : 1;
        List<String> key = key(']');
        at += several ? 2 : 1;
        if (several) {
          int count = counts.merge(key, 1, Integer::sum);
          key = new ArrayList<>(key);
          key.set(key.size() - 1, key.get(key.size() - 1) + "[" + (count - 1) + "]");
        }
        table = List.copyOf(key);
        restIsEmpty("behind a table's name stands something else.");
        ends.put(table, lineEnd());
        at = next();
        continue;
      }
      List<String> key = new ArrayList<>(table);
      key.addAll(key('='));
      at++;
      blanks();
      int from = at;
      String value = value();
      lines.add(new Line(new Entry(key, value, from, lines.size()), table.size(), start, from, at));
      restIsEmpty("behind a value stands something else.");
      ends.put(table, lineEnd());
      at = next();
      if (lines.size() > 100_000) {
        throw source.malformed(at, "there are too many settings.");
      }
    }
  }

  private boolean isEnd() {
    char c = text.charAt(at);
    return c == '#' || c == '\n' || c == '\r';
  }

  private void blanks() {
    while (at < text.length() && (text.charAt(at) == ' ' || text.charAt(at) == '\t')) {
      at++;
    }
  }

  private int lineEnd() {
    int end = text.indexOf('\n', at);
    int close = end < 0 ? text.length() : end;
    return close > at && text.charAt(close - 1) == '\r' ? close - 1 : close;
  }

  private int next() {
    int end = text.indexOf('\n', at);
    return end < 0 ? text.length() : end + 1;
  }

  private void restIsEmpty(String otherwise) {
    blanks();
    if (at < text.length() && !isEnd()) {
      throw source.malformed(at, otherwise);
    }
  }

  /** A key with its parts, up to a sign. */
  private List<String> key(char until) {
    List<String> parts = new ArrayList<>();
    while (true) {
      blanks();
      int from = at;
      char c = at < text.length() ? text.charAt(at) : '\n';
      if (c == '"' || c == '\'') {
        parts.add(quoted(c, from));
      } else {
        while (at < text.length() && isBare(text.charAt(at))) {
          at++;
        }
        if (at == from) {
          throw source.malformed(from, "a key is expected here.");
        }
        parts.add(text.substring(from, at));
      }
      blanks();
      if (at < text.length() && text.charAt(at) == until) {
        return parts;
      }
      if (at >= text.length() || text.charAt(at) != '.' || parts.size() > Limits.SETTING_DEPTH) {
        throw source.malformed(Math.min(at, text.length()), "a " + until + " is expected here.");
      }
      at++;
    }
  }

  private static boolean isBare(char c) {
    return c == '_' || c == '-' || Character.isLetterOrDigit(c);
  }

  private String value() {
    char c = at < text.length() ? text.charAt(at) : '\n';
    int from = at;
    if (c == '"' || c == '\'') {
      String three = String.valueOf(c).repeat(3);
      if (text.startsWith(three, at)) {
        int end = text.indexOf(three, at + 3);
        if (end < 0) {
          throw source.malformed(from, "the quotes that open here are not closed.");
        }
        at = end + 3;
        return text.substring(from + 3, end);
      }
      return quoted(c, from);
    }
    if (c == '[' || c == '{') {
      return nested(from);
    }
    while (at < text.length() && !isEnd() && text.charAt(at) != ' ' && text.charAt(at) != '\t') {
      at++;
    }
    if (at == from) {
      throw source.malformed(from, "a value is expected here.");
    }
    return text.substring(from, at);
  }

  /** An array or an inline table, as it is written. */
  private String nested(int from) {
    int depth = 0;
    while (at < text.length()) {
      char c = text.charAt(at);
      if (c == '"' || c == '\'') {
        quoted(c, at);
        continue;
      }
      if (c == '#') {
        at = lineEnd();
        continue;
      }
      at++;
      if (c == '[' || c == '{') {
        depth++;
      } else if (c == ']' || c == '}') {
        depth--;
        if (depth == 0) {
          return text.substring(from, at);
        }
      }
    }
    throw source.malformed(from, "what opens here is not closed.");
  }

  private String quoted(char quote, int from) {
    at = from + 1;
    StringBuilder value = new StringBuilder();
    while (true) {
      if (at >= text.length() || text.charAt(at) == '\n') {
        throw source.malformed(from, "the quote that opens here is not closed on its line.");
      }
      char c = text.charAt(at++);
      if (c == quote) {
        return value.toString();
      }
      if (c != '\\' || quote == '\'') {
        value.append(c);
        continue;
      }
      char next = at < text.length() ? text.charAt(at++) : '\n';
      switch (next) {
        case 'n' -> value.append('\n');
        case 't' -> value.append('\t');
        case 'r' -> value.append('\r');
        case 'b' -> value.append('\b');
        case 'f' -> value.append('\f');
        case '"', '\\' -> value.append(next);
        case 'u' -> value.appendCodePoint(number(4));
        case 'U' -> value.appendCodePoint(number(8));
        default -> throw source.malformed(at - 2, "\\" + next + " means nothing in TOML.");
      }
    }
  }

  private int number(int digits) {
    String word = text.substring(at, Math.min(text.length(), at + digits));
    if (word.length() < digits || !word.matches("[0-9a-fA-F]+")) {
      throw source.malformed(at, digits + " hexadecimal digits are expected here.");
    }
    at += digits;
    long code = Long.parseLong(word, 16);
    if (code > Character.MAX_CODE_POINT) {
      throw source.malformed(at, "there is no such character.");
    }
    return (int) code;
  }

  @Override
  public SourceText source() {
    return source;
  }

  @Override
  public List<Entry> entries() {
    return lines.stream().map(Line::entry).toList();
  }

  @Override
  public List<List<String>> sections() {
    return List.copyOf(ends.keySet());
  }

  @Override
  public void replace(Edits edits, Entry old, Value value) {
    Line line = lines.get(old.index());
    edits.replace(line.valueFrom(), line.valueTo(), written(value));
  }

  @Override
  public void change(Edits edits, Collection<Entry> away, List<Fresh> fresh) {
    for (Entry one : away) {
      Line line = lines.get(one.index());
      at = line.valueTo();
      edits.replace(source.lineStart(line.from()), next(), "");
    }
    Map<List<String>, StringBuilder> added = new LinkedHashMap<>();
    for (Fresh one : fresh) {
      List<String> table = one.key().subList(0, one.key().size() - 1);
      added
          .computeIfAbsent(table, key -> new StringBuilder())
          .append(indentation(table))
          .append(part(one.key().get(one.key().size() - 1)))
          .append(" = ")
          .append(written(one.value()))
          .append('\n');
    }
    added.forEach((table, text) -> add(edits, table, text.toString()));
  }

  private String indentation(List<String> table) {
    return lines.stream()
        .filter(one -> one.entry().key().subList(0, one.table()).equals(table))
        .findFirst()
        .map(one -> source.indentation(one.from()))
        .orElse("");
  }

  private void add(Edits edits, List<String> table, String added) {
    Integer end = ends.get(table);
    if (end == null) {
      StringBuilder name = new StringBuilder();
      table.forEach(part -> name.append(name.isEmpty() ? "" : ".").append(part(part)));
      String start = text.isEmpty() ? "" : text.endsWith("\n") ? "\n" : "\n\n";
      edits.insert(text.length(), start + "[" + name + "]\n" + added);
      return;
    }
    at = end;
    int position = table.isEmpty() && end == 0 ? 0 : next();
    boolean open = position == text.length() && !text.isEmpty() && !text.endsWith("\n");
    edits.insert(position, open ? "\n" + added.substring(0, added.length() - 1) : added);
  }

  private static String part(String key) {
    return !key.isEmpty() && key.chars().allMatch(c -> isBare((char) c)) ? key : string(key);
  }

  private static String written(Value value) {
    return value.bare() ? value.text() : string(value.text());
  }

  private static String string(String value) {
    StringBuilder quoted = new StringBuilder("\"");
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      switch (c) {
        case '"' -> quoted.append("\\\"");
        case '\\' -> quoted.append("\\\\");
        case '\n' -> quoted.append("\\n");
        case '\t' -> quoted.append("\\t");
        default -> quoted.append(c < ' ' ? String.format("\\u%04x", (int) c) : String.valueOf(c));
      }
    }
    return quoted.append('"').toString();
  }
}
