package io.symbolon.cli;

import io.symbolon.Finding;
import io.symbolon.survey.Survey;

/** {@code symbolon survey PATH...}. */
final class SurveyCommand {
  private SurveyCommand() {}

  static CommandSpec spec() {
    return CommandSpec.of(Command.SURVEY)
        .files("PATH", "Files and folders. Names do not matter; the content decides.")
        .unlock()
        .value(
            "host",
            "NAME",
            "A host that a certificate here should cover: DNS name or IP address. May be given several"
                + " times.")
        .flag(
            "details",
            "Show everything in the files, to the last extension, and how they are protected; what is"
                + " not known here in hexadecimal.")
        .common();
  }

  static int run(Invocation invocation) {
    Survey survey =
        invocation
            .surveyor(invocation.unlock())
            .withHosts(invocation.hosts())
            .survey(invocation.paths());
    boolean onlyFailure =
        survey.failures().size() == 1
            && survey.files().size() <= 1
            && survey.files().stream().allMatch(file -> file.isEmpty());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(new SurveyJson(survey, invocation.has("details")));
    } else if (onlyFailure) {
      throw survey.failures().get(0); // nothing to show beside it: three lines say it all
    } else {
      if (invocation.has("details")) {
        new DetailsText(output, survey).print();
        output.line("");
      }
      new SurveyText(output, survey).print();
    }
    if (!survey.failures().isEmpty()) {
      return survey.failures().stream()
          .map(failure -> ExitCode.of(failure.reason()))
          .findFirst()
          .orElse(ExitCode.INPUT);
    }
    return Finding.anyProblem(survey.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }
}
