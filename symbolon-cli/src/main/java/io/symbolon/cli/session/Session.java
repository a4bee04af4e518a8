// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.session;

import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;

/**
 * What surrounds a run of the program: its streams, its environment, its terminal and its clock.
 *
 * @param in what is fed to a command
 * @param out results
 * @param err everything else
 * @param environment the environment variables
 * @param outIsTerminal whether a person reads the results as they appear
 * @param errIsTerminal whether a person reads the rest, so that progress is worth showing
 * @param prompt asks for passwords
 * @param clock says what is expired
 */
public record Session(
    InputStream in,
    PrintStream out,
    PrintStream err,
    Map<String, String> environment,
    boolean outIsTerminal,
    boolean errIsTerminal,
    Prompt prompt,
    Clock clock) {

  /** Asks a person. */
  @FunctionalInterface
  public interface Prompt {
    /** The password, or nothing where there is no terminal to ask at. */
    Optional<char[]> ask(String question);

    /** What a person types, shown as it is typed; nothing where there is no terminal. */
    default Optional<String> line(String question) {
      return Optional.empty();
    }

    /** Whether a person says yes. */
    default boolean agrees(String question) {
      String answer = line(question + " (yes/no) ").orElse("").strip();
      return answer.equalsIgnoreCase("yes") || answer.equalsIgnoreCase("y");
    }

    /** Whether somebody is there to be asked. */
    default boolean isAttended() {
      return false;
    }
  }

  public static Session ofProcess() {
    return new Session(
        System.in,
        CheckedOutput.to(
            new FileOutputStream(FileDescriptor.out),
            isAscii(System.getenv()) && Boolean.getBoolean("symbolon.out.terminal")),
        CheckedOutput.to(
            new FileOutputStream(FileDescriptor.err),
            isAscii(System.getenv()) && Boolean.getBoolean("symbolon.err.terminal")),
        System.getenv(),
        Boolean.getBoolean("symbolon.out.terminal"),
        Boolean.getBoolean("symbolon.err.terminal"),
        new ConsolePrompt(),
        Clock.systemUTC());
  }

  public Session withStreams(PrintStream newOut, PrintStream newErr) {
    return new Session(
        in, newOut, newErr, environment, outIsTerminal, errIsTerminal, prompt, clock);
  }

  public void flush() {
    out.flush();
    err.flush();
  }

  /** Why results could not be written, where they could not. */
  public Optional<String> outputFailure() {
    if (!out.checkError()) {
      return Optional.empty();
    }
    return Optional.of(
        out instanceof CheckedOutput checked
            ? checked.failure().map(IOException::getMessage).orElse("")
            : "");
  }

  /** Whether a terminal shows ASCII alone. */
  public static boolean isAscii(Map<String, String> environment) {
    return environment.getOrDefault("SYMBOLON_TERMINAL", "").equals("ascii");
  }

  /** The width of the terminal, in characters; nothing where no terminal shows the results. */
  public java.util.OptionalInt columns() {
    String told = environment.getOrDefault("COLUMNS", "");
    return outIsTerminal && told.matches("[1-9][0-9]{1,3}")
        ? java.util.OptionalInt.of(Integer.parseInt(told))
        : java.util.OptionalInt.empty();
  }

  /** The width to write for, in characters. */
  public int width() {
    try {
      int columns = Integer.parseInt(environment.getOrDefault("COLUMNS", "100"));
      return Math.max(60, Math.min(columns, 120));
    } catch (NumberFormatException e) {
      return 100;
    }
  }
}
