// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;

/**
 * Properties, as Java writes them.
 *
 * <pre>
 * file    = *( blank-line / comment / setting )
 * comment = ( "#" / "!" ) to the end of the line
 * setting = name ( "=" / ":" / blank ) value line-end
 * </pre>
 *
 * <p>A backslash before a line end takes the next line in, without its blanks; elsewhere it takes
 * the meaning from what follows, or begins {@code \t}, {@code \n}, {@code \r}, {@code \f} or a
 * character's number. A comment of three dashes begins a new document.
 */
public final class PropertiesText implements DottedText {
  private final SourceText source;
  private final String text;
  private final List<Named> settings = new ArrayList<>();
  private final List<Integer> starts = new ArrayList<>(); // of the logical lines of the settings
  private int at;
  private int end = -1; // of the first document

  private PropertiesText(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /**
   * {@return the properties of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if a character's number is broken
   */
  public static PropertiesText read(SourceText source) {
    PropertiesText reader = new PropertiesText(source);
    reader.read();
    return reader;
  }

  private void read() {
    int document = 0;
    while (at < text.length()) {
      int start = at;
      blanks();
      if (at >= text.length()) {
        break;
      }
      char c = text.charAt(at);
      if (c == '#' || c == '!') {
        int close = lineEnd(at);
        if (text.substring(at + 1, close).strip().equals("---") && at == start) {
          document++;
          end = end < 0 ? start : end;
        }
        at = next(close);
      } else if (c == '\n' || c == '\r') {
        at = next(lineEnd(at));
      } else {
        starts.add(start);
        setting(document);
      }
    }
    end = end < 0 ? text.length() : end;
  }

  private void setting(int document) {
    StringBuilder name = new StringBuilder();
    while (at < text.length() && "=: \t\f\r\n".indexOf(text.charAt(at)) < 0) {
      take(name);
    }
    blanks();
    if (at < text.length() && (text.charAt(at) == '=' || text.charAt(at) == ':')) {
      at++;
      blanks();
    }
    int from = at;
    StringBuilder value = new StringBuilder();
    while (at < text.length() && text.charAt(at) != '\n' && text.charAt(at) != '\r') {
      take(value);
    }
    settings.add(new Named(name.toString(), value.toString(), document, from, at));
    at = next(at);
  }

  /** Takes one character, or what a backslash makes of several. */
  private void take(StringBuilder into) {
    char c = text.charAt(at++);
    if (c != '\\' || at >= text.length()) {
      if (c != '\\') {
        into.append(c);
      }
      return;
    }
    char next = text.charAt(at);
    if (next == '\n' || next == '\r') {
      at = next(at);
      blanks();
      return;
    }
    at++;
    switch (next) {
      case 't' -> into.append('\t');
      case 'n' -> into.append('\n');
      case 'r' -> into.append('\r');
      case 'f' -> into.append('\f');
      case 'u' -> into.append(number());
      default -> into.append(next);
    }
  }

  private char number() {
    int value = 0;
    for (int i = 0; i < 4; i++) {
      int digit = at + i < text.length() ? Character.digit(text.charAt(at + i), 16) : -1;
      if (digit < 0) {
        throw source.malformed(at - 2, "behind \\u must be four hexadecimal digits.");
      }
      value = value * 16 + digit;
    }
    at += 4;
    return (char) value;
  }

  /** Blanks, and lines that are taken in by a backslash. */
  private void blanks() {
    while (at < text.length() && " \t\f".indexOf(text.charAt(at)) >= 0) {
      at++;
    }
  }

  private int lineEnd(int from) {
    int close = from;
    while (close < text.length() && text.charAt(close) != '\n' && text.charAt(close) != '\r') {
      close++;
    }
    return close;
  }

  private int next(int lineEnd) {
    return text.startsWith("\r\n", lineEnd) ? lineEnd + 2 : Math.min(lineEnd + 1, text.length());
  }

  @Override
  public SourceText source() {
    return source;
  }

  @Override
  public List<Named> settings() {
    return List.copyOf(settings);
  }

  @Override
  public void replace(Edits edits, Named old, String value) {
    edits.replace(old.from(), old.to(), value(value));
  }

  @Override
  public void change(Edits edits, Collection<Named> away, Map<String, String> fresh) {
    for (Named one : away) {
      edits.replace(starts.get(settings.indexOf(one)), next(one.to()), "");
    }
    if (!fresh.isEmpty()) {
      add(edits, fresh);
    }
  }

  private void add(Edits edits, Map<String, String> values) {
    StringBuilder lines = new StringBuilder();
    boolean ended = end == 0 || text.charAt(end - 1) == '\n';
    values.forEach(
        (name, value) ->
            lines
                .append(ended ? "" : "\n")
                .append(name(name))
                .append('=')
                .append(value(value))
                .append(ended ? "\n" : ""));
    edits.insert(end, lines + (ended ? "" : "\n"));
  }

  /** {@return a name as it is written} */
  public static String name(String name) {
    return escaped(name, true);
  }

  /**
   * {@return a value as it is written; letters beyond ASCII by their numbers, which every reader
   * takes alike}
   */
  public static String value(String value) {
    return escaped(value, false);
  }

  private static String escaped(String text, boolean name) {
    StringBuilder escaped = new StringBuilder();
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      switch (c) {
        case '\\' -> escaped.append("\\\\");
        case '\n' -> escaped.append("\\n");
        case '\r' -> escaped.append("\\r");
        case '\t' -> escaped.append("\\t");
        case '\f' -> escaped.append("\\f");
        case ' ' -> escaped.append(name || i == 0 ? "\\ " : " ");
        case '=', ':', '#', '!' -> escaped.append(name ? "\\" : "").append(c);
        default -> {
          if (c < ' ' || c > '~') {
            escaped.append(String.format("\\u%04x", (int) c));
          } else {
            escaped.append(c);
          }
        }
      }
    }
    return escaped.toString();
  }
}
