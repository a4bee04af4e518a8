// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.document.ExplainDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.explain.FailureText;
import io.symbolon.finding.Finding;
import io.symbolon.task.explain.ExplainJob;
import io.symbolon.task.explain.ExplainReport;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** {@code symbolon explain [FILE...]}. */
public final class ExplainCommand {
  private ExplainCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .any(
            "FILE",
            "Logs and stack traces; without any, what comes on standard input. Of a file larger than"
                + " 64 MiB the end is read.")
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    List<Path> files = given.paths();
    ExplainReport report =
        (files.isEmpty() ? ExplainJob.of(invocation.session().in()) : ExplainJob.of(files)).run();
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(report, output));
    } else {
      report.texts().forEach(text -> print(output, text));
    }
    return report.isQuiet() ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static void print(Output output, ExplainReport.Text source) {
    Paint paint = output.paint();
    source.notRead().ifPresent(sentence -> output.wrapped("", sentence));
    if (source.explanations().isEmpty()) {
      output.line("No failure of TLS was found in " + source.name() + ".");
      return;
    }
    output.line(
        paint.heading("Found in ")
            + source.name()
            + paint.faint(
                "  " + HoldingText.count(source.explanations().size(), "kind") + " of failure"));
    for (FailureText.Explanation one : source.explanations()) {
      Finding finding = one.finding();
      output.line("");
      output.line(
          "  "
              + paint.level(finding.level(), finding.id())
              + paint.faint(
                  "  line "
                      + one.line()
                      + (one.times() > 1
                          ? " and " + HoldingText.count(one.times() - 1L, "other line")
                          : "")));
      output.line("    " + paint.faint(cut(one.text(), output.width() - 4)));
      output.wrapped("    ", finding.statement());
      output.remedy("    ", finding.remedy());
    }
  }

  private static String cut(String text, int width) {
    return text.length() <= width ? text : text.substring(0, width - 3) + "...";
  }

  private static ExplainDocument document(ExplainReport report, Output output) {
    List<ExplainDocument.ExplainedFailure> failures = new ArrayList<>();
    List<Finding> findings = new ArrayList<>();
    for (ExplainReport.Text source : report.texts()) {
      for (FailureText.Explanation one : source.explanations()) {
        failures.add(
            new ExplainDocument.ExplainedFailure(
                source.name(), one.line(), one.times(), one.text(), one.finding().id()));
        findings.add(one.finding());
      }
    }
    return new ExplainDocument(
        "explain",
        report.texts().stream().flatMap(source -> source.notRead().stream()).toList(),
        failures,
        FindingDocument.all(findings, output.commands()));
  }
}
