// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.survey;

import io.symbolon.cli.document.SurveyDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.RulesSource;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.RuleCheck;
import io.symbolon.issue.Rules;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.x509.CertificateRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

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
    SurveyJob job = SurveyJob.of(given);
    Survey survey =
        invocation
            .surveyor(invocation.unlock(job.unlock()))
            .withHosts(job.hosts())
            .survey(job.paths());
    List<Finding> broken = broken(invocation, job, survey);
    boolean onlyFailure =
        survey.failures().size() == 1
            && survey.files().size() <= 1
            && survey.files().stream().allMatch(file -> file.isEmpty());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(SurveyDocument.of(survey, broken, job.details(), output.commands()));
    } else if (onlyFailure) {
      throw survey.failures().get(0); // nothing to show beside it: three lines say it all
    } else {
      if (job.details()) {
        new DetailsText(output, survey).print();
        output.line("");
      }
      new SurveyText(output, survey, broken).print();
    }
    if (!survey.failures().isEmpty()) {
      return survey.failures().stream()
          .map(failure -> ExitCode.of(failure.reason()))
          .findFirst()
          .orElse(ExitCode.INPUT);
    }
    return Finding.anyProblem(survey.findings()) || Finding.anyProblem(broken)
        ? ExitCode.PROBLEM
        : ExitCode.DONE;
  }

  /** The rules of the receiver that requests here break. */
  private static List<Finding> broken(Invocation invocation, SurveyJob job, Survey survey) {
    Optional<Rules> rules = job.rules().map(RulesSource::read);
    List<Finding> broken = new ArrayList<>();
    for (RequestStatus status : survey.requests()) {
      CertificateRequest request = status.request().request();
      String where = status.request().place().toString();
      broken.addAll(RuleCheck.all(RequestDraft.of(request), request.publicKey(), rules, where));
    }
    if (rules.isPresent() && survey.requests().isEmpty()) {
      broken.add(
          Finding.of(
              FindingKind.NO_REQUEST,
              "",
              "The rules were applied to nothing: no request is among the files.",
              "Name the file of the request."));
    }
    broken.addAll(invocation.notices());
    return broken;
  }
}
