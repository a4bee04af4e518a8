// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.finding.Finding;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Prints findings for a person: the worst first, and of each kind only so many. */
public final class FindingsText {
  private static final int OF_A_KIND = 8;
  private static final String INDENT = "           ";

  private FindingsText() {}

  public static void print(Output output, List<Finding> findings) {
    Map<String, Integer> printed = new HashMap<>();
    Map<String, Integer> hidden = new java.util.TreeMap<>();
    for (Finding finding : findings) {
      if (printed.merge(finding.id(), 1, Integer::sum) > OF_A_KIND) {
        hidden.merge(finding.id(), 1, Integer::sum);
        continue;
      }
      String level = HoldingText.padded(finding.level().word(), 9);
      output.line(
          "  "
              + output.paint().level(finding.level(), level)
              + output.paint().heading(finding.id())
              + (finding.where().isEmpty() ? "" : output.paint().faint("  " + finding.where())));
      output.wrapped(INDENT, finding.statement());
      output.remedy(INDENT, finding.remedy());
    }
    hidden.forEach(
        (id, count) ->
            output.line(
                output.paint().faint("  and " + count + " more of " + id + "; --json lists all")));
  }

  /** A line such as "1 problem, 2 notes". */
  public static String summary(List<Finding> findings) {
    StringBuilder text = new StringBuilder();
    for (io.symbolon.finding.Level level : io.symbolon.finding.Level.values()) {
      long count = findings.stream().filter(f -> f.level() == level).count();
      if (count > 0) {
        text.append(text.isEmpty() ? "" : ", ")
            .append(count)
            .append(' ')
            .append(level.word())
            .append(count == 1 ? "" : "s");
      }
    }
    return text.isEmpty() ? "nothing to report" : text.toString();
  }
}
