// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.text;

import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * What stands for a value in settings, such as <code>${name}</code>: one way to resolve it for all
 * servers, with defaults, nesting, and values that have names in them again. What is not known is
 * never guessed.
 */
public final class Placeholders {
  private static final int MOST_DEPTH = 16;
  private static final int MOST_LENGTH = 1 << 16;
  private static final int MOST_NAMES = 10_000; // names in names in names

  private final Syntax syntax;
  private final Function<String, Optional<String>> values;

  /**
   * How a server writes them.
   *
   * @param separator what stands between a name and its default; empty where there is none
   * @param bare whether <code>$name</code> counts as well
   * @param round whether <code>$(name)</code> counts as well
   * @param escape what stands for a dollar sign that is one; empty where nothing does
   */
  public record Syntax(String separator, boolean bare, boolean round, String escape) {
    /** <code>${name:default}</code>, as in Spring Boot and WildFly. */
    public static final Syntax COLON = new Syntax(":", false, false, "");

    /** <code>${name:-default}</code>, as in Tomcat. */
    public static final Syntax SHELL = new Syntax(":-", false, false, "");

    /** <code>${name}</code> without a default, as in httpd. */
    public static final Syntax PLAIN = new Syntax("", false, false, "");

    /** <code>$name</code>, <code>${name}</code> and <code>$(name)</code>, as in Postfix. */
    public static final Syntax POSTFIX = new Syntax("", true, true, "$$");

    /** <code>$NAME</code> and <code>${NAME-default}</code>, as in HAProxy. */
    public static final Syntax ENVIRONMENT = new Syntax("-", true, false, "\\$");

    /**
     * {@return the same with another escape}
     *
     * @param text what stands for a dollar sign
     */
    public Syntax escapedBy(String text) {
      return new Syntax(separator, bare, round, text);
    }
  }

  private Placeholders(Syntax syntax, Function<String, Optional<String>> values) {
    this.syntax = syntax;
    this.values = values;
  }

  /**
   * {@return a resolver}
   *
   * @param syntax how they are written
   * @param values what a name stands for; nothing where that is not known
   */
  public static Placeholders of(Syntax syntax, Function<String, Optional<String>> values) {
    return new Placeholders(syntax, values);
  }

  /**
   * {@return a text with what its names stand for; nothing where one of them is not known}
   *
   * @param text the text as it is written
   */
  public Optional<String> resolved(String text) {
    return Optional.ofNullable(resolve(text, 0, false, new int[1]));
  }

  /**
   * {@return a text with what its names stand for; those that are not known stay as they are
   * written}
   *
   * @param text the text as it is written
   */
  public String known(String text) {
    String known = resolve(text, 0, true, new int[1]);
    return known == null ? text : known;
  }

  private @Nullable String resolve(String text, int depth, boolean keep, int[] done) {
    if (depth > MOST_DEPTH || ++done[0] > MOST_NAMES) {
      return null; // a name that stands for itself
    }
    StringBuilder out = new StringBuilder();
    int at = 0;
    while (at < text.length()) {
      if (out.length() > MOST_LENGTH) {
        return null;
      }
      if (!syntax.escape().isEmpty() && text.startsWith(syntax.escape(), at)) {
        out.append('$');
        at += syntax.escape().length();
        continue;
      }
      char c = text.charAt(at);
      int end = c == '$' ? end(text, at) : -1;
      if (end < 0) {
        out.append(c);
        at++;
        continue;
      }
      boolean bare = Character.isJavaIdentifierPart(text.charAt(at + 1));
      String inside = bare ? text.substring(at + 1, end) : text.substring(at + 2, end - 1);
      String value = value(inside, bare, depth, keep, done);
      if (value == null && !keep) {
        return null;
      }
      out.append(value == null ? text.substring(at, end) : value);
      at = end;
    }
    return out.toString();
  }

  /** Where a name that begins with a dollar sign ends; -1 where none begins. */
  private int end(String text, int at) {
    char next = at + 1 < text.length() ? text.charAt(at + 1) : ' ';
    if (next == '{' || (next == '(' && syntax.round())) {
      char close = next == '{' ? '}' : ')';
      int open = 0;
      for (int i = at + 1; i < text.length(); i++) {
        open += text.charAt(i) == next ? 1 : text.charAt(i) == close ? -1 : 0;
        if (open == 0) {
          return i + 1;
        }
      }
      return -1;
    }
    if (!syntax.bare() || !(Character.isLetter(next) || next == '_')) {
      return -1;
    }
    int end = at + 1;
    while (end < text.length()
        && (Character.isLetterOrDigit(text.charAt(end)) || text.charAt(end) == '_')) {
      end++;
    }
    return end;
  }

  private @Nullable String value(String inside, boolean bare, int depth, boolean keep, int[] done) {
    int cut = bare || syntax.separator().isEmpty() ? -1 : separator(inside);
    String name = resolve(cut < 0 ? inside : inside.substring(0, cut), depth + 1, keep, done);
    if (name == null) {
      return null;
    }
    Optional<String> known = values.apply(name.strip());
    if (known.isPresent()) {
      return resolve(known.get(), depth + 1, keep, done);
    }
    return cut < 0
        ? null
        : resolve(inside.substring(cut + syntax.separator().length()), depth + 1, keep, done);
  }

  /** The first separator that stands in no name inside. */
  private int separator(String inside) {
    int open = 0;
    for (int i = 0; i < inside.length(); i++) {
      open += inside.charAt(i) == '{' ? 1 : inside.charAt(i) == '}' ? -1 : 0;
      if (open == 0 && inside.startsWith(syntax.separator(), i)) {
        return i;
      }
    }
    return -1;
  }
}
