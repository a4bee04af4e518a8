// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.compare;

import io.symbolon.cli.document.CompareDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.task.compare.CompareJob;
import io.symbolon.task.compare.CompareReport;
import java.nio.file.Path;
import java.util.List;

/** {@code symbolon compare ONE OTHER}. */
public final class CompareCommand {
  private CompareCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .two(
            "ONE OTHER",
            "Two files, folders or archives, the older one first: certificates, keystores, truststores"
                + " in any format.")
        .unlock()
        .flag("details", "Name what is the same one by one, too.")
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    List<Path> paths = given.paths();
    CompareReport report =
        new CompareJob(paths.get(0), paths.get(1), given.unlock()).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(
          CompareDocument.of(paths, report.comparison(), report.notices(), output.commands()));
    } else {
      new CompareText(output, paths, report.comparison(), given.has("details"))
          .print(report.notices());
    }
    return report.failure().map(failure -> ExitCode.of(failure.reason())).orElse(ExitCode.DONE);
  }
}
