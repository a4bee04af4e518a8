// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.limit.Limits;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * The language of Apache httpd.
 *
 * <pre>
 * file      = *line
 * line      = [ comment / directive / open / close ] line-end
 * directive = name *word
 * open      = "&lt;" name *word "&gt;"
 * close     = "&lt;/" name "&gt;"
 * word      = DQUOTE *any DQUOTE / "'" *any "'" / 1*( any but blank )
 * comment   = "#" to the end of the line    ; only where a line begins
 * </pre>
 *
 * <p>A backslash right before a line end takes the next line in, in comments too. In words a
 * backslash is dropped before another one, and inside of quotes before that quote. A directive ends
 * where its last word ends; a block behind what closes it.
 */
public final class HttpdText {
  private final SourceText source;
  private final String text;
  private int at;

  private HttpdText(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /**
   * {@return the directives of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not this language, with line and column
   */
  public static List<Directive> read(SourceText source) {
    HttpdText reader = new HttpdText(source);
    List<Directive> directives = reader.directives(0);
    if (reader.at < reader.text.length()) {
      throw source.malformed(reader.at, "this line closes a block that nothing has opened.");
    }
    return directives;
  }

  /**
   * What stands up to the line that closes a block, or to the end; stops before that line's {@code
   * <}.
   */
  private List<Directive> directives(int depth) {
    List<Directive> directives = new ArrayList<>();
    while (true) {
      blanks();
      if (at >= text.length() || text.startsWith("</", at)) {
        return directives;
      }
      char c = text.charAt(at);
      if (c == '\n') {
        at++;
      } else if (c == '#') {
        comment();
      } else if (c == '<') {
        directives.add(block(depth));
      } else {
        directives.add(directive());
      }
    }
  }

  private void comment() {
    while (at < text.length() && text.charAt(at) != '\n') {
      at += continuation(at) > 0 ? continuation(at) : 1;
    }
  }

  /** How many characters at a position say that the line goes on: a backslash and a line end. */
  private int continuation(int position) {
    return text.startsWith("\\\n", position) ? 2 : text.startsWith("\\\r\n", position) ? 3 : 0;
  }

  private void blanks() {
    while (at < text.length()) {
      int more = continuation(at);
      char c = text.charAt(at);
      if (more == 0 && c != ' ' && c != '\t' && c != '\r') {
        return;
      }
      at += Math.max(1, more);
    }
  }

  private Directive directive() {
    int from = at;
    List<Word> words = new ArrayList<>();
    int to = at;
    while (true) {
      blanks();
      if (at >= text.length() || text.charAt(at) == '\n') {
        break;
      }
      words.add(word(false));
      to = at;
    }
    return new Directive(
        source, words.get(0).value(), words.subList(1, words.size()), from, to, Optional.empty());
  }

  private Directive block(int depth) {
    int from = at++;
    List<Word> words = new ArrayList<>();
    while (true) {
      blanks();
      if (at >= text.length() || text.charAt(at) == '\n') {
        throw source.malformed(from, "the > of this line is missing.");
      }
      if (isLastBracket()) {
        at++;
        break;
      }
      words.add(word(true));
    }
    if (words.isEmpty()) {
      throw source.malformed(from, "a block has no name.");
    }
    if (depth >= Limits.SETTING_DEPTH) {
      throw source.malformed(from, "blocks in blocks, more than " + Limits.SETTING_DEPTH + ".");
    }
    int inside = at;
    List<Directive> directives = directives(depth + 1);
    int close = at;
    String name = words.get(0).value();
    if (at >= text.length()) {
      throw source.malformed(from, "the block that opens here is not closed.");
    }
    at += 2;
    int end = at;
    while (end < text.length() && text.charAt(end) != '>' && text.charAt(end) != '\n') {
      end++;
    }
    String closed = text.substring(at, end).strip();
    if (end >= text.length() || text.charAt(end) != '>' || !isSame(closed, name)) {
      throw source.malformed(close, "this does not close the block " + name + " that is open.");
    }
    at = end + 1;
    int to = at;
    blanks();
    if (at < text.length() && text.charAt(at) != '\n') {
      throw source.malformed(at, "behind what closes a block stands something else.");
    }
    return new Directive(
        source,
        name,
        words.subList(1, words.size()),
        from,
        to,
        Optional.of(new Directive.Block(inside, close, directives)));
  }

  private static boolean isSame(String one, String other) {
    return one.toLowerCase(Locale.ROOT).equals(other.toLowerCase(Locale.ROOT));
  }

  /** Whether a {@code >} is here and nothing behind it on its line: one in the middle is a word. */
  private boolean isLastBracket() {
    if (text.charAt(at) != '>') {
      return false;
    }
    int end = at + 1;
    while (end < text.length() && " \t\r".indexOf(text.charAt(end)) >= 0) {
      end++;
    }
    return end >= text.length() || text.charAt(end) == '\n';
  }

  private Word word(boolean inBrackets) {
    int from = at;
    char first = text.charAt(at);
    char quote = first == '"' || first == '\'' ? first : 0;
    StringBuilder value = new StringBuilder();
    at += quote == 0 ? 0 : 1;
    while (true) {
      int more = at < text.length() ? continuation(at) : 0;
      if (more > 0) {
        at += more;
        continue;
      }
      if (at >= text.length() || text.charAt(at) == '\n') {
        // A quote that nothing closes ends with its line, as the server has it.
        int end = at;
        while (end > from && text.charAt(end - 1) == '\r') {
          end--;
        }
        if (value.length() > 0 && value.charAt(value.length() - 1) == '\r') {
          value.setLength(value.length() - 1);
        }
        return new Word(value.toString(), from, end);
      }
      char c = text.charAt(at);
      if (quote != 0 && c == quote) {
        at++;
        return new Word(value.toString(), from, at);
      }
      if (quote == 0 && (isBlank(c) || (inBrackets && isLastBracket()))) {
        return new Word(value.toString(), from, at);
      }
      char next = at + 1 < text.length() ? text.charAt(at + 1) : 0;
      if (c == '\\' && (next == '\\' || (quote != 0 && next == quote))) {
        value.append(next);
        at += 2;
      } else {
        value.append(c);
        at++;
      }
    }
  }

  private static boolean isBlank(char c) {
    return c == ' ' || c == '\t' || c == '\r';
  }

  /**
   * {@return a value as a word of this language, in quotes where it needs them}
   *
   * @param value the value; one line, without <code>${</code>, which always means a variable
   */
  public static String word(String value) {
    boolean plain =
        !value.isEmpty() && value.chars().noneMatch(c -> c <= ' ' || "\"'\\<>#".indexOf(c) >= 0);
    return plain ? value : "\"" + value.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
  }
}
