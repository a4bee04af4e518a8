package io.symbolon.cli;

import io.symbolon.text.VisibleText;

/**
 * Quotes an argument for a shell, so that a command can be copied as it is shown: in single quotes
 * where it needs any. What would act on the terminal is written as an escape inside {@code $'...'},
 * which bash, zsh and ksh read.
 */
public final class ShellQuote {
  private ShellQuote() {}

  /** The argument as it is typed. */
  public static String quote(String argument) {
    if (argument.matches("[A-Za-z0-9_@%+=:,./-]+")) {
      return argument;
    }
    boolean visible =
        argument
            .codePoints()
            .mapToObj(Character::toString)
            .allMatch(one -> VisibleText.of(one).equals(one));
    return visible ? "'" + argument.replace("'", "'\\''") + "'" : escaped(argument);
  }

  private static String escaped(String argument) {
    StringBuilder out = new StringBuilder("$'");
    argument
        .codePoints()
        .forEach(
            point -> {
              String one = Character.toString(point);
              if (point == '\'' || point == '\\') {
                out.append('\\').append(one);
              } else if (VisibleText.of(one).equals(one)) {
                out.append(one);
              } else {
                out.append(String.format("\\U%08X", point));
              }
            });
    return out.append('\'').toString();
  }
}
