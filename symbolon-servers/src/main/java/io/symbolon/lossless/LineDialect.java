// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.Optional;

/**
 * How a language of lines is written: one setting on a line, a name and a value.
 *
 * @param separator what stands between a name and its value
 * @param sections whether lines in brackets begin sections
 * @param begins the name whose line begins a section, with its value as a part of the section's
 *     name; nothing where none does
 * @param braces whether a line that ends in an opening brace begins a section, up to the closing
 *     one
 * @param comments the characters of which each begins a comment at the beginning of a line
 * @param behind whether a comment may stand behind a value as well
 * @param quotes how a value is quoted
 * @param continued whether a line that begins with a blank goes on with the value before it
 */
public record LineDialect(
    Separator separator,
    boolean sections,
    Optional<String> begins,
    boolean braces,
    String comments,
    boolean behind,
    Quotes quotes,
    boolean continued) {
  /** What stands between a name and its value. */
  public enum Separator {
    /** The sign =, with or without blanks. */
    EQUALS,
    /** Blanks. */
    BLANK
  }

  /** How a value is quoted, where it is. */
  public enum Quotes {
    /** Never: a quote is a character of the value. */
    NONE,
    /** In double quotes, with a backslash before a quote or a backslash. */
    DOUBLE,
    /** The same, around every value that is written. */
    ALWAYS,
    /** In single quotes, in which a quote is written twice and nothing else is special. */
    SINGLE,
    /**
     * In double quotes as a shell reads them, where a dollar and a backquote are special as well.
     */
    SHELL
  }

  /** Sections in brackets, {@code name = value}, comments with # and ;. */
  public static final LineDialect INI =
      new LineDialect(
          Separator.EQUALS, true, Optional.empty(), false, "#;", false, Quotes.NONE, false);

  /** {@code name = value}, comments with #. */
  public static final LineDialect ASSIGNMENTS =
      new LineDialect(
          Separator.EQUALS, false, Optional.empty(), false, "#", false, Quotes.NONE, false);

  /** {@code name value}, comments with #. */
  public static final LineDialect WORDS =
      new LineDialect(
          Separator.BLANK, false, Optional.empty(), false, "#", false, Quotes.NONE, false);

  /** {@code NAME=value}, as service managers and shells read it. */
  public static final LineDialect ENVIRONMENT =
      new LineDialect(
          Separator.EQUALS, false, Optional.empty(), false, "#", false, Quotes.SHELL, false);

  /**
   * {@return the same with other comments}
   *
   * @param characters the characters of which each begins a comment
   * @param alsoBehind whether one may stand behind a value
   */
  public LineDialect withComments(String characters, boolean alsoBehind) {
    return new LineDialect(
        separator, sections, begins, braces, characters, alsoBehind, quotes, continued);
  }

  /**
   * {@return the same with other quotes}
   *
   * @param how how a value is quoted
   */
  public LineDialect withQuotes(Quotes how) {
    return new LineDialect(separator, sections, begins, braces, comments, behind, how, continued);
  }

  /** {@return the same with sections that a name's line begins} */
  public LineDialect beginningWith(String name) {
    return new LineDialect(
        separator, sections, Optional.of(name), braces, comments, behind, quotes, continued);
  }

  /** {@return the same with sections in braces} */
  public LineDialect withBraces() {
    return new LineDialect(separator, sections, begins, true, comments, behind, quotes, continued);
  }

  /** {@return the same with values that go on in lines that begin with a blank} */
  public LineDialect withContinuedLines() {
    return new LineDialect(separator, sections, begins, braces, comments, behind, quotes, true);
  }
}
