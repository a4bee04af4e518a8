// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.program.ProgramStart;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A program of the server's, to be run as it is: no shell reads its words. {@link
 * io.symbolon.program.ProgramStart} says what it gets and as whom it may run.
 *
 * @param words the program and its arguments
 * @param limit how long it may take
 * @param success how its success is told
 * @param input the lines that it is told on its input; no secrets
 * @param account the account that it runs as, where root gives the command; nothing for whoever
 *     gives it
 * @param variables what it gets in its environment
 * @param reads the settings files and folders that tell it what to do: whoever controls them
 *     controls the program
 */
public record ServerCommand(
    List<String> words,
    Duration limit,
    Success success,
    List<String> input,
    Optional<String> account,
    Map<String, String> variables,
    List<Path> reads) {
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

  /** Copies the lists. */
  public ServerCommand {
    words = List.copyOf(words);
    input = List.copyOf(input);
    variables = Map.copyOf(variables);
    reads = List.copyOf(reads);
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
    return of(List.of(words));
  }

  /**
   * {@return a command with the usual limit}
   *
   * @param words the program and its arguments
   */
  public static ServerCommand of(List<String> words) {
    return new ServerCommand(
        words, USUAL_LIMIT, Success.USUAL, List.of(), Optional.empty(), Map.of(), List.of());
  }

  /**
   * {@return a command as the account of a server, where root gives it}
   *
   * @param words the program and its arguments
   */
  public static ServerCommand as(String account, List<String> words) {
    ServerCommand command = of(words);
    return new ServerCommand(
        command.words,
        command.limit,
        command.success,
        command.input,
        Optional.of(account),
        command.variables,
        command.reads);
  }

  /**
   * {@return the same with variables in its environment}
   *
   * @param set the variables
   */
  public ServerCommand with(Map<String, String> set) {
    return new ServerCommand(words, limit, success, input, account, set, reads);
  }

  /**
   * {@return the same, told what it reads to know what to do}
   *
   * @param files settings files and folders
   */
  public ServerCommand reading(List<Path> files) {
    return new ServerCommand(words, limit, success, input, account, variables, files);
  }

  /** {@return the command as somebody would type it: with its account and its variables} */
  public List<String> line() {
    List<String> all = new ArrayList<>();
    account
        .filter(one -> isRoot() && !one.equals("root"))
        .ifPresent(one -> all.addAll(List.of("runuser", "-u", one, "--")));
    if (!variables.isEmpty()) {
      all.add("env");
      variables.entrySet().stream()
          .sorted(Map.Entry.comparingByKey())
          .forEach(one -> all.add(one.getKey() + "=" + one.getValue()));
    }
    all.addAll(words);
    return all;
  }

  private static boolean isRoot() {
    return "root".equals(System.getProperty("user.name"));
  }

  ProgramStart start() {
    return ProgramStart.of(words).as(account).with(variables).reading(reads);
  }

  /**
   * {@return the same with another sign of success}
   *
   * @param sign how its success is told
   */
  public ServerCommand succeedingBy(Success sign) {
    return new ServerCommand(words, limit, sign, input, account, variables, reads);
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
    return new ServerCommand(words, newLimit, success, input, account, variables, reads);
  }

  /** {@return the same, told lines on its input} */
  public ServerCommand told(List<String> lines) {
    return new ServerCommand(words, limit, success, lines, account, variables, reads);
  }
}
