package io.symbolon.survey;

import java.util.List;
import java.util.stream.Collectors;

/**
 * What to do next.
 *
 * @param arguments the command and its arguments; empty where the step is one for people
 * @param why what it gives, or what to do, a sentence
 */
public record NextStep(List<String> arguments, String why) {
  /** Copies the list. */
  public NextStep {
    arguments = List.copyOf(arguments);
  }

  /** The command line as it can be typed, or the empty text. */
  public String commandLine() {
    return arguments.isEmpty()
        ? ""
        : "symbolon " + arguments.stream().map(ShellQuote::quote).collect(Collectors.joining(" "));
  }
}
