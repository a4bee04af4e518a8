// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.due;

import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.due.DueItem;
import io.symbolon.finding.Level;
import io.symbolon.task.due.DueReport;
import java.util.List;

/** What ends, for a person at a terminal. */
final class DueText {
  private static final int LATER = 15;
  private static final int USES = 4;

  private final Output output;
  private final Paint paint;
  private final DueReport report;

  DueText(Output output, DueReport report) {
    this.output = output;
    this.paint = output.paint();
    this.report = report;
  }

  void print() {
    List<DueItem> due = report.due();
    List<DueItem> later = report.items().subList(due.size(), report.items().size());
    output.line(
        paint.heading(
            due.isEmpty()
                ? report.notLookedAt() > 0
                    ? "Not all could be looked at: "
                        + HoldingText.count(report.notLookedAt(), "problem")
                        + ", told below. Of the rest nothing is due until "
                        + HoldingText.day(report.until())
                    : "Nothing is due until " + HoldingText.day(report.until())
                : due.size()
                    + " of "
                    + report.items().size()
                    + " due until "
                    + HoldingText.day(report.until())));
    for (DueItem item : due) {
      output.line("");
      line(item);
      uses(item, USES);
      output.line("    To do: " + output.commands().advice(item.remedy()));
      output
          .commands()
          .lines(item.remedy())
          .forEach(one -> output.line("           " + one.text()));
    }
    if (!later.isEmpty()) {
      output.line("");
      output.line(paint.heading("Later"));
      for (DueItem item : later.subList(0, Math.min(LATER, later.size()))) {
        line(item);
        uses(item, 1);
      }
      if (later.size() > LATER) {
        output.line(paint.faint("  and " + (later.size() - LATER) + " more; --json has them all"));
      }
    }
    if (!report.findings().isEmpty()) {
      new FindingsSection(output).print(report.findings());
    }
  }

  private void line(DueItem item) {
    long days = item.days(report.now());
    String left = item.hasEnded(report.now()) ? "ended" : days == 1 ? "1 day" : days + " days";
    String shown = "%-11s".formatted(left);
    output.line(
        "  "
            + HoldingText.day(item.ends())
            + "  "
            + (item.hasEnded(report.now())
                ? paint.level(Level.PROBLEM, shown)
                : report.isDue(item) ? paint.level(Level.WARNING, shown) : shown)
            + item.name()
            + paint.faint("  " + item.kind().title()));
  }

  private void uses(DueItem item, int most) {
    List<String> uses = item.uses();
    for (String use : uses.subList(0, Math.min(most, uses.size()))) {
      output.line(paint.faint("                         " + use));
    }
    if (uses.size() > most) {
      output.line(
          paint.faint(
              "                         and "
                  + (uses.size() - most)
                  + (uses.size() - most == 1 ? " more place" : " more places")));
    }
  }
}
