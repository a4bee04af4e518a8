// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.explain.FailureText;
import io.symbolon.finding.Finding;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.ServerCommand;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** What a server's own command printed, in short. */
final class ServerWords {
  private static final int MOST = 300;
  private static final Set<String> GRAVE =
      Set.of("emerg", "error", "fatal", "severe", "syntax", "alert", "invalid", "cannot", "can't");

  private ServerWords() {}

  /** The line that says why, else the last one. */
  static String reason(String output) {
    List<String> lines = output.lines().map(String::strip).filter(one -> !one.isEmpty()).toList();
    String chosen =
        lines.stream()
            .filter(ServerWords::isGrave)
            .findFirst()
            .orElse(lines.isEmpty() ? "It printed nothing" : lines.get(lines.size() - 1));
    return chosen.length() > MOST ? chosen.substring(0, MOST) + "…" : chosen;
  }

  /** How a command failed. */
  static String ended(ServerCommand command, CommandResult result) {
    return switch (result.end()) {
      case NOT_STARTED -> command.words().get(0) + " can't be started: " + result.output();
      case REFUSED -> result.output();
      case TOO_LONG -> "it took more than " + command.limit().toSeconds() + " seconds";
      case ENDED -> "it ended with " + result.exitCode() + ". " + reason(result.output());
    };
  }

  private static boolean isGrave(String line) {
    String lower = line.toLowerCase(Locale.ROOT);
    return GRAVE.stream().anyMatch(lower::contains);
  }

  /** What these words are known to mean. */
  static List<Finding> explained(String output, String where) {
    return FailureText.explain(output, where).stream()
        .map(FailureText.Explanation::finding)
        .filter(finding -> !finding.is(io.symbolon.finding.FindingKind.NOT_EXPLAINED))
        .distinct()
        .toList();
  }
}
