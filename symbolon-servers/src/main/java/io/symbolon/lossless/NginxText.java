// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.limit.Limits;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The language of nginx.
 *
 * <pre>
 * file      = *directive
 * directive = word *word ( ";" / "{" *directive "}" )
 * word      = quoted / plain            ; a comment is where a word could begin
 * quoted    = DQUOTE *any DQUOTE / "'" *any "'"
 * plain     = 1*( any but blank ; { } ) ; "{" is plain behind "$"
 * comment   = "#" to the end of the line
 * </pre>
 *
 * <p>In words a backslash keeps the next character from ending anything; it is dropped only before
 * quotes and another backslash, and makes line ends and tabs of {@code \r}, {@code \n} and {@code
 * \t}. Blocks of another language ({@code …_by_lua_block}) are passed over, braces counted.
 */
public final class NginxText {
  private final SourceText source;
  private final String text;
  private int at;

  private NginxText(SourceText source) {
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
    NginxText reader = new NginxText(source);
    List<Directive> directives = reader.directives(0);
    if (reader.at < reader.text.length()) {
      throw source.malformed(reader.at, "a } closes a block that nothing has opened.");
    }
    return directives;
  }

  private List<Directive> directives(int depth) {
    List<Directive> directives = new ArrayList<>();
    while (true) {
      blanks();
      if (at >= text.length() || text.charAt(at) == '}') {
        return directives;
      }
      directives.add(directive(depth));
    }
  }

  private Directive directive(int depth) {
    int from = at;
    List<Word> words = new ArrayList<>();
    while (true) {
      blanks();
      if (at >= text.length()) {
        throw source.malformed(from, "this setting has no ; at its end.");
      }
      char c = text.charAt(at);
      if (c == ';') {
        at++;
        return made(words, from, Optional.empty());
      }
      if (c == '{') {
        return made(words, from, Optional.of(block(words, depth)));
      }
      if (c == '}') {
        throw source.malformed(at, "a } stands where the ; of a setting is missing.");
      }
      words.add(c == '"' || c == '\'' ? quoted(c) : plain());
    }
  }

  private Directive made(List<Word> words, int from, Optional<Directive.Block> block) {
    if (words.isEmpty()) {
      throw source.malformed(from, "a name is missing before this.");
    }
    return new Directive(
        source, words.get(0).value(), words.subList(1, words.size()), from, at, block);
  }

  private Directive.Block block(List<Word> words, int depth) {
    int open = at++;
    if (depth >= Limits.SETTING_DEPTH) {
      throw source.malformed(open, "blocks in blocks, more than " + Limits.SETTING_DEPTH + ".");
    }
    int inside = at;
    if (!words.isEmpty() && words.get(0).value().endsWith("_by_lua_block")) {
      passOver(open);
      return new Directive.Block(inside, at - 1, List.of());
    }
    List<Directive> directives = directives(depth + 1);
    if (at >= text.length()) {
      throw source.malformed(open, "the block that opens here is not closed.");
    }
    return new Directive.Block(inside, at++, directives);
  }

  private void passOver(int open) {
    int deep = 1;
    while (deep > 0) {
      if (at >= text.length()) {
        throw source.malformed(open, "the block that opens here is not closed.");
      }
      char c = text.charAt(at++);
      deep += c == '{' ? 1 : c == '}' ? -1 : 0;
    }
  }

  private void blanks() {
    while (at < text.length()) {
      char c = text.charAt(at);
      if (c == '#') {
        int end = text.indexOf('\n', at);
        at = end < 0 ? text.length() : end;
      } else if (isBlank(c)) {
        at++;
      } else {
        return;
      }
    }
  }

  private static boolean isBlank(char c) {
    return c == ' ' || c == '\t' || c == '\r' || c == '\n';
  }

  private Word quoted(char quote) {
    int from = at++;
    StringBuilder value = new StringBuilder();
    while (true) {
      if (at >= text.length()) {
        throw source.malformed(from, "the quote that opens here is not closed.");
      }
      char c = text.charAt(at);
      if (c == quote) {
        at++;
        break;
      }
      take(value);
    }
    if (at < text.length() && !isBlank(text.charAt(at)) && ";{)".indexOf(text.charAt(at)) < 0) {
      throw source.malformed(at, "behind a closing quote must be a blank, a ; or a {.");
    }
    return new Word(value.toString(), from, at);
  }

  private Word plain() {
    int from = at;
    StringBuilder value = new StringBuilder();
    while (at < text.length()) {
      char c = text.charAt(at);
      boolean variable = c == '{' && at > from && text.charAt(at - 1) == '$';
      if (isBlank(c) || c == ';' || (c == '{' && !variable)) {
        break;
      }
      take(value);
    }
    return new Word(value.toString(), from, at);
  }

  private void take(StringBuilder value) {
    char c = text.charAt(at++);
    if (c != '\\' || at >= text.length()) {
      value.append(c);
      return;
    }
    char next = text.charAt(at++);
    switch (next) {
      case '"', '\'', '\\' -> value.append(next);
      case 't' -> value.append('\t');
      case 'r' -> value.append('\r');
      case 'n' -> value.append('\n');
      default -> value.append(c).append(next);
    }
  }

  /** {@return a value as a word of this language} */
  public static String word(String value) {
    boolean plain =
        !value.isEmpty()
            && value.chars().noneMatch(c -> " \t\r\n;{}\"'\\#".indexOf(c) >= 0 || c < ' ');
    if (plain) {
      return value;
    }
    StringBuilder quoted = new StringBuilder("\"");
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      switch (c) {
        case '"', '\\' -> quoted.append('\\').append(c);
        case '\n' -> quoted.append("\\n");
        case '\r' -> quoted.append("\\r");
        case '\t' -> quoted.append("\\t");
        default -> quoted.append(c);
      }
    }
    return quoted.append('"').toString();
  }
}
