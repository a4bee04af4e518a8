// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.survey;

import io.symbolon.cli.document.SurveyDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.survey.Survey;
import io.symbolon.task.survey.SurveyJob;
import io.symbolon.task.survey.SurveyReport;

/** {@code symbolon survey PATH...}. */
public final class SurveyCommand {
  private SurveyCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .files("PATH", "Files and folders. Names do not matter; the content decides.")
        .unlock()
        .value(
            "host",
            "NAME",
            "A host that a certificate here should cover: DNS name or IP address. May be given several"
                + " times.")
        .rules()
        .flag(
            "details",
            "Show everything in the files, to the last extension, and how they are protected; what is"
                + " not known here in hexadecimal.")
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    SurveyJob.Builder job = SurveyJob.of(given.paths()).unlock(given.unlock()).hosts(given.hosts());
    given.rules().ifPresent(job::rules);
    SurveyReport report = job.build().run(invocation.task());
    Survey survey = report.survey();
    Output output = invocation.output();
    boolean details = given.has("details");
    if (output.isJson()) {
      output.json(SurveyDocument.of(survey, report.more(), details, output.commands()));
    } else if (report.onlyFailure().isPresent()) {
      throw report.onlyFailure().get(); // nothing to show beside it: three lines say it all
    } else {
      if (details) {
        new DetailsText(output, survey).print();
        output.line("");
      }
      new SurveyText(output, survey, report.more()).print();
    }
    if (!survey.failures().isEmpty()) {
      return ExitCode.of(survey.failures().get(0).reason());
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }
}
