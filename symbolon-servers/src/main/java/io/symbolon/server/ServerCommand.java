// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;

/**
 * A program of the server's, to be run as it is: no shell takes part.
 *
 * @param words the program and its arguments
 * @param limit how long it may take
 * @param success how its success is told
 * @param input the lines that it is told on its input; no secrets
 */
public record ServerCommand(
    List<String> words, Duration limit, Success success, List<String> input) {
  /** How a program tells that it succeeded. */
  public interface Success {
    /** It ended with 0. */
    Success USUAL = CommandResult::isGood;

    /**
     * {@return whether it succeeded}
     *
     * @param result what came of it
     */
    boolean isGood(CommandResult result);
  }

  /** How long a server's command may take where nothing else is known. */
  public static final Duration USUAL_LIMIT = Duration.ofSeconds(60);

  /**
   * Copies the words.
   *
   * @param words the words
   * @param limit the limit
   * @param success how its success is told
   * @param input the lines of its input
   */
  public ServerCommand {
    words = List.copyOf(words);
    input = List.copyOf(input);
    if (words.isEmpty()) {
      throw new IllegalArgumentException("a command without a program");
    }
  }

  /**
   * {@return a command with the usual limit}
   *
   * @param words the program and its arguments
   */
  public static ServerCommand of(String... words) {
    return new ServerCommand(List.of(words), USUAL_LIMIT, Success.USUAL, List.of());
  }

  /**
   * {@return a command with the usual limit}
   *
   * @param words the program and its arguments
   */
  public static ServerCommand of(List<String> words) {
    return new ServerCommand(words, USUAL_LIMIT, Success.USUAL, List.of());
  }

  /**
   * {@return a command as the account of a server, where root gives it}
   *
   * @param account the account
   * @param words the program and its arguments
   */
  public static ServerCommand as(String account, List<String> words) {
    if (!"root".equals(System.getProperty("user.name")) || account.equals("root")) {
      return of(words);
    }
    List<String> all = new ArrayList<>(List.of("runuser", "-u", account, "--"));
    all.addAll(words);
    return of(all);
  }

  /**
   * {@return the same with another sign of success}
   *
   * @param sign how its success is told
   */
  public ServerCommand succeedingBy(Success sign) {
    return new ServerCommand(words, limit, sign, input);
  }

  /**
   * {@return whether it succeeded}
   *
   * @param result what came of it
   */
  public boolean isGood(CommandResult result) {
    return success.isGood(result);
  }

  /**
   * {@return the same with another limit}
   *
   * @param newLimit how long it may take
   */
  public ServerCommand within(Duration newLimit) {
    return new ServerCommand(words, newLimit, success, input);
  }

  /**
   * {@return the same, told lines on its input}
   *
   * @param lines the lines
   */
  public ServerCommand told(List<String> lines) {
    return new ServerCommand(words, limit, success, lines);
  }
}
