// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.configure.TrialStep;
import io.symbolon.finding.Level;
import io.symbolon.server.Installation;
import io.symbolon.server.Server;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.TrialReport;
import java.util.List;

/** {@code symbolon configure --try}: every mode in a copy, one on top of the other. */
final class TryCommand {
  private TryCommand() {}

  static int run(Invocation invocation, ConfigureJob job) {
    TrialReport report = job.tryInCopy(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(ConfigureDocument.ofTrial(report.steps(), output.commands()));
    } else {
      print(
          output,
          report.server(),
          report.there(),
          report.steps(),
          report.ownFiles(),
          report.isGood());
    }
    return report.isGood() ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static void print(
      Output output,
      Server server,
      Installation there,
      List<TrialStep> steps,
      boolean own,
      boolean good) {
    Paint paint = output.paint();
    output.line(
        paint.heading(server.title())
            + paint.faint("  " + Output.shown(there.main()))
            + "  "
            + (good
                ? paint.good("tried in a copy; nothing was written")
                : paint.level(Level.PROBLEM, "tried in a copy; it does not do what is wanted")));
    if (!own) {
      output.line(paint.faint("  with a key and authorities that were made up for this"));
    }
    int number = 0;
    for (TrialStep step : steps) {
      output.line("");
      output.line(
          paint.heading(++number + ". " + step.what())
              + "  "
              + (step.isGood()
                  ? paint.good("read back as it was wanted; a second time changes nothing")
                  : paint.level(Level.PROBLEM, "not as it was wanted")));
      new ChangedFiles(output).print(step.changes(), List.of(), false);
      if (step.changes().isEmpty() && step.isGood()) {
        output.line("  " + paint.faint("nothing to change"));
      }
      new FindingsSection(output).print(step.problems());
    }
  }
}
