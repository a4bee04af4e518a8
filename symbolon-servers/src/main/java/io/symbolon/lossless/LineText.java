// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Settings of one line each, as PostgreSQL has them.
 *
 * <pre>
 * file    = *( [ setting ] [ comment ] line-end )
 * setting = name [ "=" ] value
 * value   = "'" *( any / "''" / "\" any ) "'"  /  1*( any but blank, "#" and "'" )
 * comment = "#" to the end of the line
 * </pre>
 *
 * <p>The include lines have the same form. A directive ends where its value ends; the comment
 * behind it stays.
 */
public final class LineText {
  private final SourceText source;
  private final String text;
  private int at;

  private LineText(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /**
   * {@return the settings of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not this language, with line and column
   */
  public static List<Directive> read(SourceText source) {
    return new LineText(source).settings();
  }

  private List<Directive> settings() {
    List<Directive> settings = new ArrayList<>();
    while (at < text.length()) {
      blanks();
      if (at < text.length() && !isEnd()) {
        settings.add(setting());
      }
      comment();
    }
    return settings;
  }

  private Directive setting() {
    int from = at;
    while (at < text.length() && isName(text.charAt(at))) {
      at++;
    }
    if (at == from) {
      throw source.malformed(from, "a setting begins with its name.");
    }
    String name = text.substring(from, at);
    blanks();
    if (at < text.length() && text.charAt(at) == '=') {
      at++;
      blanks();
    }
    if (at >= text.length() || isEnd()) {
      throw source.malformed(from, name + " has no value.");
    }
    Word value = text.charAt(at) == '\'' ? quoted() : plain();
    int to = at;
    blanks();
    if (at < text.length() && !isEnd()) {
      throw source.malformed(at, "behind the value of " + name + " stands something else.");
    }
    return new Directive(source, name, List.of(value), from, to, Optional.empty());
  }

  private static boolean isName(char c) {
    return c == '_' || c == '.' || c == '-' || Character.isLetterOrDigit(c);
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

  private void comment() {
    int end = text.indexOf('\n', at);
    at = end < 0 ? text.length() : end + 1;
  }

  private Word quoted() {
    int from = at++;
    StringBuilder value = new StringBuilder();
    while (true) {
      if (at >= text.length() || text.charAt(at) == '\n') {
        throw source.malformed(from, "the quote that opens here is not closed on its line.");
      }
      char c = text.charAt(at++);
      if (c == '\'') {
        if (at < text.length() && text.charAt(at) == '\'') {
          at++;
          value.append('\'');
          continue;
        }
        return new Word(value.toString(), from, at);
      }
      if (c == '\\' && at < text.length() && text.charAt(at) != '\n') {
        char next = text.charAt(at++);
        value.append(
            switch (next) {
              case 'n' -> '\n';
              case 't' -> '\t';
              case 'r' -> '\r';
              default -> next;
            });
      } else {
        value.append(c);
      }
    }
  }

  private Word plain() {
    int from = at;
    while (at < text.length() && !isEnd() && text.charAt(at) != ' ' && text.charAt(at) != '\t') {
      if (text.charAt(at) == '\'') {
        throw source.malformed(at, "a quote stands in the middle of a value.");
      }
      at++;
    }
    return new Word(text.substring(from, at), from, at);
  }

  /**
   * {@return a value as it is written, always in quotes}
   *
   * @param value the value; one line
   */
  public static String quoted(String value) {
    return "'" + value.replace("\\", "\\\\").replace("'", "''") + "'";
  }
}
