package io.symbolon.survey;

/** Quotes an argument for a POSIX shell, so that a command can be copied as it is shown. */
public final class ShellQuote {
  private ShellQuote() {}

  /** The argument, in single quotes where it needs any. */
  public static String quote(String argument) {
    return argument.matches("[A-Za-z0-9_@%+=:,./-]+")
        ? argument
        : "'" + argument.replace("'", "'\\''") + "'";
  }
}
