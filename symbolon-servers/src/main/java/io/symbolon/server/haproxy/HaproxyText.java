// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.Word;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * HAProxy's settings: a line is a row of words.
 *
 * <pre>
 * file = *( [ word *( blank word ) ] [ "#" comment ] line-end )
 * word = *( any but blank, "#" and quotes / "\" any / '"' ... '"' / "'" ... "'" )
 * </pre>
 *
 * <p>Between double quotes a backslash escapes and variables are replaced; between single quotes
 * nothing is special.
 */
final class HaproxyText {
  private static final Set<String> SECTIONS =
      Set.of(
          "global",
          "defaults",
          "frontend",
          "backend",
          "listen",
          "peers",
          "resolvers",
          "mailers",
          "userlist",
          "program",
          "cache",
          "http-errors",
          "ring",
          "fcgi-app",
          "log-forward",
          "crt-store");

  /**
   * A line with words.
   *
   * @param section the kind of section it stands in, such as {@code frontend}
   * @param name the name of that section
   * @param from where its first word begins
   * @param to where its last word ends
   */
  record Line(String section, String name, List<Word> words, int from, int to) {
    String word(int index) {
      return index < words.size() ? words.get(index).value() : "";
    }

    boolean begins() {
      return SECTIONS.contains(word(0));
    }
  }

  private final SourceText source;
  private final String text;
  private int at;

  private HaproxyText(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /** The lines of a file. */
  static List<Line> read(SourceText source) {
    HaproxyText reader = new HaproxyText(source);
    List<Line> lines = new ArrayList<>();
    String section = "";
    String name = "";
    while (reader.at < reader.text.length()) {
      List<Word> words = reader.words();
      if (!words.isEmpty()) {
        if (SECTIONS.contains(words.get(0).value())) {
          section = words.get(0).value();
          name = words.size() > 1 ? words.get(1).value() : section;
        }
        lines.add(
            new Line(section, name, words, words.get(0).from(), words.get(words.size() - 1).to()));
      }
    }
    return lines;
  }

  /** The words of the next line. */
  private List<Word> words() {
    List<Word> words = new ArrayList<>();
    while (at < text.length()) {
      char c = text.charAt(at);
      if (c == '\n') {
        at++;
        return words;
      }
      if (c == '#') {
        int end = text.indexOf('\n', at);
        at = end < 0 ? text.length() : end;
      } else if (c == ' ' || c == '\t' || c == '\r') {
        at++;
      } else {
        words.add(word());
      }
    }
    return words;
  }

  private Word word() {
    int from = at;
    StringBuilder value = new StringBuilder();
    while (at < text.length() && " \t\r\n#".indexOf(text.charAt(at)) < 0) {
      char c = text.charAt(at);
      if (c == '"' || c == '\'') {
        quoted(c, value);
      } else if (c == '\\' && at + 1 < text.length()) {
        value.append(text.charAt(at + 1));
        at += 2;
      } else {
        value.append(c);
        at++;
      }
    }
    return new Word(value.toString(), from, at);
  }

  private void quoted(char quote, StringBuilder value) {
    int from = at++;
    while (true) {
      if (at >= text.length() || text.charAt(at) == '\n') {
        throw source.malformed(from, "the quote that opens here is not closed on its line.");
      }
      char c = text.charAt(at++);
      if (c == quote) {
        return;
      }
      boolean escapes = c == '\\' && quote == '"' && at < text.length();
      value.append(escapes ? text.charAt(at++) : c);
    }
  }

  /** A word as it is written. */
  static String written(String value) {
    return value.matches("[\\w./:@%+,=*\\[\\]-]+") ? value : "'" + quotedInside(value) + "'";
  }

  private static String quotedInside(String value) {
    return value.replace("'", "'\\''");
  }
}
