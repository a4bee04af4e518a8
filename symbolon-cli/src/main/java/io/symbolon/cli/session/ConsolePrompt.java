// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.session;

import java.io.Console;
import java.lang.reflect.InvocationTargetException;
import java.util.Optional;

/** Asks at the terminal, without showing what is typed. */
public final class ConsolePrompt implements Session.Prompt {
  @Override
  @SuppressWarnings("SystemConsoleNull") // isTerminal is asked as well where there is one
  public Optional<char[]> ask(String question) {
    Console console = System.console();
    if (console == null || !isTerminal(console)) {
      return Optional.empty();
    }
    return Optional.ofNullable(console.readPassword("%s: ", question));
  }

  @Override
  @SuppressWarnings("SystemConsoleNull")
  public Optional<String> line(String question) {
    Console console = System.console();
    if (console == null || !isTerminal(console)) {
      return Optional.empty();
    }
    return Optional.ofNullable(console.readLine("%s", question));
  }

  @Override
  @SuppressWarnings("SystemConsoleNull")
  public boolean isAttended() {
    Console console = System.console();
    return console != null && isTerminal(console);
  }

  /** From Java 22 on there is a console even where there is no terminal, and it can be asked. */
  private static boolean isTerminal(Console console) {
    try {
      return (boolean) Console.class.getMethod("isTerminal").invoke(console);
    } catch (NoSuchMethodException e) {
      return true;
    } catch (IllegalAccessException | InvocationTargetException e) {
      return false;
    }
  }
}
