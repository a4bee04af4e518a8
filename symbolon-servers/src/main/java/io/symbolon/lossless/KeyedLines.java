// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Settings of one line each, in any of the dialects that {@link LineDialect} tells of.
 *
 * <pre>
 * file    = *( blank-line / comment / section / setting / "!" word blank value )
 * section = "[" name "]"  /  begins blank value  /  name "{" ... "}"
 * setting = name [ separator value ] [ comment ]
 * </pre>
 *
 * <p>A name without a value is a setting with the empty value. A line with a ! is what some
 * languages take other files in with; it stands outside of every section.
 */
public final class KeyedLines implements KeyedText {
  private final SourceText source;
  private final String text;
  private final LineDialect dialect;
  private final List<Line> lines = new ArrayList<>();
  private final Map<List<String>, Integer> ends = new LinkedHashMap<>(); // behind its last line
  private boolean spaced = true; // whether blanks stand around the sign =

  /** A setting's line: where it starts and ends, and where its value does. */
  private record Line(Entry entry, int from, int to, int valueFrom, int valueTo) {}

  private KeyedLines(SourceText source, LineDialect dialect) {
    this.source = source;
    this.text = source.text();
    this.dialect = dialect;
  }

  /**
   * {@return the settings of a file}
   *
   * @param source the file
   * @param dialect how its language is written
   * @throws SymbolonException if it is not this language, with line and column
   */
  public static KeyedLines read(SourceText source, LineDialect dialect) {
    KeyedLines reader = new KeyedLines(source, dialect);
    reader.read();
    return reader;
  }

  private void read() {
    Deque<String> open = new ArrayDeque<>(); // the sections around a line, the innermost last
    int tight = 0;
    int wide = 0;
    int at = 0;
    ends.put(List.of(), 0);
    while (at < text.length()) {
      int start = at;
      int end = lineEnd(at);
      at = next(end);
      String line = text.substring(start, end);
      String stripped = line.strip();
      if (stripped.isEmpty() || dialect.comments().indexOf(stripped.charAt(0)) >= 0) {
        continue;
      }
      if (dialect.sections() && stripped.startsWith("[")) {
        open.clear();
        open.add(section(start, stripped));
        ends.put(List.copyOf(open), end);
        continue;
      }
      if (dialect.braces() && stripped.equals("}")) {
        if (open.pollLast() == null) {
          throw source.malformed(start, "this } closes nothing.");
        }
        continue;
      }
      if (dialect.braces() && stripped.endsWith("{")) {
        open.add(stripped.substring(0, stripped.length() - 1).strip());
        if (open.size() > Limits.SETTING_DEPTH) {
          throw source.malformed(start, "sections are nested too deep.");
        }
        ends.put(List.copyOf(open), end);
        continue;
      }
      while (dialect.continued() && at < text.length() && continues(at)) {
        end = lineEnd(at);
        at = next(end);
      }
      if (dialect.begins().isPresent() && word(stripped).equals(dialect.begins().get())) {
        open.clear();
        open.add(withoutComment(stripped).replaceAll("\\s+", " "));
        ends.put(List.copyOf(open), end);
        continue;
      }
      int sign = line.indexOf('=');
      if (sign > 0 && dialect.separator() == LineDialect.Separator.EQUALS) {
        boolean blank = line.charAt(sign - 1) == ' ';
        wide += blank ? 1 : 0;
        tight += blank ? 0 : 1;
      }
      lines.add(setting(start, end, List.copyOf(open)));
      ends.put(List.copyOf(open), end);
    }
    if (dialect.braces() && !open.isEmpty()) {
      throw source.malformed(text.length(), "a { is not closed.");
    }
    spaced = wide >= tight && dialect.quotes() != LineDialect.Quotes.SHELL;
  }

  private String section(int start, String stripped) {
    int close = stripped.indexOf(']');
    if (close < 0) {
      throw source.malformed(start, "the ] of this section is missing.");
    }
    return stripped.substring(1, close).strip();
  }

  private int lineEnd(int from) {
    int end = text.indexOf('\n', from);
    int close = end < 0 ? text.length() : end;
    return close > from && text.charAt(close - 1) == '\r' ? close - 1 : close;
  }

  private int next(int end) {
    int line = text.indexOf('\n', end);
    return line < 0 ? text.length() : line + 1;
  }

  private boolean continues(int start) {
    int end = lineEnd(start);
    String line = text.substring(start, end);
    return !line.isBlank()
        && (line.charAt(0) == ' ' || line.charAt(0) == '\t')
        && dialect.comments().indexOf(line.strip().charAt(0)) < 0;
  }

  private static String word(String stripped) {
    int end = 0;
    while (end < stripped.length() && !Character.isWhitespace(stripped.charAt(end))) {
      end++;
    }
    return stripped.substring(0, end);
  }

  private Line setting(int start, int end, List<String> around) {
    int from = start;
    while (Character.isWhitespace(text.charAt(from))) {
      from++;
    }
    boolean include = text.charAt(from) == '!';
    boolean blank =
        include
            || dialect.separator() == LineDialect.Separator.BLANK
            || isInclude(text.substring(from, end));
    int close = from;
    while (close < end && !(blank ? isBlank(text.charAt(close)) : text.charAt(close) == '=')) {
      close++;
    }
    int valueFrom = Math.min(end, close + 1);
    while (valueFrom < end && isBlank(text.charAt(valueFrom))) {
      valueFrom++;
    }
    String name = text.substring(from, close).strip();
    if (close == end) { // no separator: what stands behind the name is a comment, if anything
      name = withoutComment(name);
      valueFrom = from + name.length();
      end = Math.max(end, valueFrom);
      return line(include ? List.of() : around, name, "", start, end, valueFrom, valueFrom);
    }
    int valueTo = valueEnd(valueFrom, end);
    String value = meant(text.substring(valueFrom, valueTo));
    return line(include ? List.of() : around, name, value, start, end, valueFrom, valueTo);
  }

  /** Languages with a sign = take other files in with a word and a blank. */
  private static boolean isInclude(String line) {
    String word = word(line);
    return word.startsWith("include")
        && !word.contains("=")
        && word.length() < line.length()
        && !line.substring(word.length()).strip().startsWith("=");
  }

  private Line line(
      List<String> around, String name, String value, int from, int to, int vFrom, int vTo) {
    List<String> key = new ArrayList<>(around);
    key.add(name);
    return new Line(new Entry(key, value, vFrom, lines.size()), from, to, vFrom, vTo);
  }

  private static boolean isBlank(char c) {
    return c == ' ' || c == '\t';
  }

  private String withoutComment(String words) {
    if (!dialect.behind()) {
      return words;
    }
    int at = commentAt(words, 0);
    return words.substring(0, at).strip();
  }

  /** Where a comment begins, with a blank before it; the end where there is none. */
  private int commentAt(String line, int from) {
    for (int i = Math.max(from, 1); i < line.length(); i++) {
      if (dialect.comments().indexOf(line.charAt(i)) >= 0 && isBlank(line.charAt(i - 1))) {
        return i;
      }
    }
    return line.length();
  }

  /** Where the value ends: behind its quote, or before a comment or the blanks at the end. */
  private int valueEnd(int from, int end) {
    Optional<Integer> quoted = closing(text.substring(from, end));
    if (quoted.isPresent()) {
      return from + quoted.get();
    }
    int to = dialect.behind() ? from + commentAt(text.substring(from, end), 0) : end;
    while (to > from && Character.isWhitespace(text.charAt(to - 1))) {
      to--;
    }
    return to;
  }

  /** Behind the quote that closes a value which begins with one, where only a comment follows. */
  private Optional<Integer> closing(String raw) {
    if (raw.isEmpty() || dialect.quotes() == LineDialect.Quotes.NONE) {
      return Optional.empty();
    }
    char quote = raw.charAt(0);
    boolean single = quote == '\'';
    if (quote != '"' && !single) {
      return Optional.empty();
    }
    int at = 1;
    while (at < raw.length()) {
      char c = raw.charAt(at);
      if (c == '\\' && !single) {
        at += 2;
      } else if (c == quote) {
        boolean twice =
            dialect.quotes() == LineDialect.Quotes.SINGLE
                && at + 1 < raw.length()
                && raw.charAt(at + 1) == quote;
        if (!twice) {
          String rest = raw.substring(at + 1).strip();
          boolean comment = rest.isEmpty() || (dialect.comments().indexOf(rest.charAt(0)) >= 0);
          return comment ? Optional.of(at + 1) : Optional.empty();
        }
        at += 2;
      } else {
        at++;
      }
    }
    return Optional.empty();
  }

  /** What a value means. */
  private String meant(String raw) {
    if (closing(raw).isEmpty()) {
      return dialect.continued() ? raw.replaceAll("\\s*\\R\\s+", " ") : raw;
    }
    char quote = raw.charAt(0);
    String inside = raw.substring(1, raw.length() - 1);
    if (quote == '\'') {
      return dialect.quotes() == LineDialect.Quotes.SINGLE ? inside.replace("''", "'") : inside;
    }
    StringBuilder value = new StringBuilder();
    for (int i = 0; i < inside.length(); i++) {
      char c = inside.charAt(i);
      boolean escapes =
          c == '\\'
              && i + 1 < inside.length()
              && (dialect.quotes() == LineDialect.Quotes.SHELL
                  ? "\\\"$`".indexOf(inside.charAt(i + 1)) >= 0
                  : "\\\"".indexOf(inside.charAt(i + 1)) >= 0);
      value.append(escapes ? inside.charAt(++i) : c);
    }
    return value.toString();
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
    boolean before = line.valueFrom() > line.from() && line.valueFrom() == line.valueTo();
    String blank = before && dialect.separator() == LineDialect.Separator.BLANK ? " " : "";
    String sign =
        before && dialect.separator() == LineDialect.Separator.EQUALS && !hasSign(line)
            ? sign()
            : "";
    edits.replace(line.valueFrom(), line.valueTo(), blank + sign + written(value.text()));
  }

  private boolean hasSign(Line line) {
    return text.substring(line.from(), line.valueFrom()).indexOf('=') >= 0;
  }

  private String sign() {
    return dialect.separator() == LineDialect.Separator.BLANK ? " " : spaced ? " = " : "=";
  }

  /** A value as it is written; one that would be read as another is refused. */
  private String written(String value) {
    String text =
        switch (dialect.quotes()) {
          case NONE -> value;
          case DOUBLE ->
              isPlain(value)
                  ? value
                  : '"' + value.replace("\\", "\\\\").replace("\"", "\\\"") + '"';
          case ALWAYS -> '"' + value.replace("\\", "\\\\").replace("\"", "\\\"") + '"';
          case SINGLE -> isPlain(value) ? value : "'" + value.replace("'", "''") + "'";
          case SHELL ->
              isPlain(value) ? value : '"' + value.replaceAll("([\\\\\"$`])", "\\\\$1") + '"';
        };
    int end = dialect.behind() && closing(text).isEmpty() ? commentAt(text, 0) : text.length();
    boolean same =
        end == text.length()
            && value.chars().noneMatch(c -> c < ' ')
            && text.equals(text.strip())
            && (value.isEmpty() || meant(text).equals(value))
            && !(dialect.braces() && text.endsWith("{"));
    if (!same) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The file " + VisibleText.of(source.path().toString()) + " was not changed.",
          "Its language has no way to write the value " + VisibleText.of(value) + ".",
          "Choose a path or a word of plain letters.");
    }
    return text;
  }

  private static boolean isPlain(String value) {
    return value.matches("[\\w./:@%+,<-]+");
  }

  @Override
  public void change(Edits edits, Collection<Entry> away, List<Fresh> fresh) {
    for (Entry one : away) {
      Line line = lines.get(one.index());
      edits.replace(line.from(), next(line.to()), "");
    }
    Map<List<String>, List<Fresh>> bySection = new LinkedHashMap<>();
    for (Fresh one : fresh) {
      bySection
          .computeIfAbsent(one.key().subList(0, one.key().size() - 1), key -> new ArrayList<>())
          .add(one);
    }
    bySection.forEach((section, added) -> add(edits, section, added));
  }

  private void add(Edits edits, List<String> section, List<Fresh> fresh) {
    StringBuilder added = new StringBuilder();
    String indentation = indentation(section);
    for (Fresh one : fresh) {
      added
          .append(indentation)
          .append(one.key().get(one.key().size() - 1))
          .append(sign())
          .append(written(one.value().text()))
          .append('\n');
    }
    Integer end = ends.get(section);
    if (end != null && !(section.isEmpty() && end == 0 && !text.isEmpty() && ends.size() == 1)) {
      boolean last = next(end) == text.length() && !text.endsWith("\n") && !text.isEmpty();
      if (last) {
        edits.insert(text.length(), "\n" + added.substring(0, added.length() - 1));
      } else {
        edits.insert(section.isEmpty() && end == 0 ? 0 : next(end), added.toString());
      }
      return;
    }
    String start = text.isEmpty() ? "" : text.endsWith("\n") ? "" : "\n";
    edits.insert(text.length(), start + opening(section) + added + closing(section));
  }

  private String indentation(List<String> section) {
    for (Line line : lines) {
      List<String> key = line.entry().key();
      if (key.size() == section.size() + 1 && key.subList(0, section.size()).equals(section)) {
        return source.indentation(line.from());
      }
    }
    return dialect.braces() ? "  ".repeat(section.size()) : "";
  }

  private String opening(List<String> section) {
    if (section.isEmpty()) {
      return "";
    }
    if (dialect.braces()) {
      StringBuilder open = new StringBuilder();
      for (int i = 0; i < section.size(); i++) {
        open.append("  ".repeat(i)).append(section.get(i)).append(" {\n");
      }
      return open.toString();
    }
    String name = section.get(0);
    String blank = text.isBlank() ? "" : "\n";
    return blank + (dialect.sections() ? "[" + name + "]" : name) + "\n";
  }

  private String closing(List<String> section) {
    StringBuilder close = new StringBuilder();
    for (int i = section.size() - 1; dialect.braces() && i >= 0; i--) {
      close.append("  ".repeat(i)).append("}\n");
    }
    return close.toString();
  }
}
