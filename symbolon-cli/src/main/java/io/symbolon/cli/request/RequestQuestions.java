// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.apache.commons.cli.ParseException;

/**
 * Asks a person for each part of a request, and back again. The answers become a command line,
 * which is shown, run after a yes, and can be given again without any question.
 */
final class RequestQuestions {
  private static final String BACK = "<";
  private static final String NONE = "-";

  private final Invocation invocation;
  private final Session session;
  private final Output output;
  private final QuestionPlan questions;
  private final RequestAnswers answers;

  private RequestQuestions(Invocation invocation, GivenOptions given) {
    this.invocation = invocation;
    this.session = invocation.session();
    this.output = invocation.output();
    this.questions = new QuestionPlan(given, session);
    this.answers = new RequestAnswers(given);
  }

  static int run(Invocation invocation, GivenOptions given) {
    return new RequestQuestions(invocation, given).run();
  }

  private int run() {
    output.line(output.paint().heading("A certificate signing request, part by part"));
    output.wrapped(
        "  ",
        "An empty answer takes what stands in brackets, or leaves the part out; - leaves it out in"
            + " any case; < goes back to the question before, and your answers are kept. Nothing is"
            + " written before you have seen all of it and said yes.");
    while (true) {
      Optional<RequestQuestion> question = questions.next(answers);
      if (question.isPresent()) {
        ask(question.get());
        continue;
      }
      RequestJob job;
      RequestPlan plan;
      try {
        job = job();
        plan = RequestPlan.of(invocation, job);
      } catch (SymbolonException e) {
        // What fits no other answer is asked for again, and nothing that was typed is lost.
        output.wrapped("  ", e.seen() + " " + output.commands().paragraph(e.remedy()));
        if (!answers.takeBack()) {
          throw e;
        }
        continue;
      }
      show(plan);
      if (Finding.anyProblem(plan.findings())) {
        FindingsText.print(output, plan.findings());
        output.wrapped(
            "  ", "It can't be written so. The questions come again, with your answers.");
        answers.takeAllBack();
        continue;
      }
      String answer = line("  Write it? (yes, no, or < to go back) ").toLowerCase(Locale.ROOT);
      if (answer.equals(BACK)) {
        answers.takeBack();
      } else if (answer.equals("yes") || answer.equals("y")) {
        return RequestCommand.write(invocation, job, plan);
      } else {
        output.line("Nothing was written.");
        return ExitCode.DONE;
      }
    }
  }

  private RequestJob job() {
    try {
      return RequestJob.of(
          new GivenOptions(
              invocation.action().spec().parse(answers.arguments().toArray(String[]::new))));
    } catch (ParseException e) {
      throw new IllegalStateException("the answers make no command line", e);
    }
  }

  private void show(RequestPlan plan) {
    output.line("");
    output.line(output.paint().heading("This will be asked for"));
    RequestReport.fields(output, plan);
    output.line("  into     " + plan.into().shown());
    plan.keyInto().ifPresent(to -> output.line("  key into " + to.shown()));
    output.line("");
    output.line(output.paint().heading("The same as one command line, for next time"));
    output.pasted("  " + output.paint().command(commandLine()));
    output.line("");
  }

  private String commandLine() {
    return "symbolon request " + output.commands().shell().line(answers.arguments());
  }

  /** Asks until the answer can be used, or is to go back. */
  private void ask(RequestQuestion question) {
    String usual = answers.remembered(question.id()).orElse(question.usual());
    output.line("");
    if (!question.why().isBlank()) {
      output.wrapped("  ", question.why().strip());
    }
    while (true) {
      String answer =
          line("  " + question.label() + (usual.isEmpty() ? "" : " [" + usual + "]") + ": ");
      if (answer.equals(BACK)) {
        if (!answers.takeBack()) {
          output.wrapped("  ", "This is the first question.");
          continue;
        }
        return;
      }
      String meant = answer.isEmpty() ? usual : answer.equals(NONE) ? "" : answer;
      if (isTaken(question, meant)) {
        answers.add(question.id(), meant);
        return;
      }
    }
  }

  private boolean isTaken(RequestQuestion question, String meant) {
    try {
      List<RequestQuestion.Remark> remarks = question.judge().apply(meant);
      remarks.forEach(remark -> output.wrapped("  ", remark.text()));
      return remarks.stream().noneMatch(RequestQuestion.Remark::refused);
    } catch (SymbolonException e) {
      output.wrapped("  ", e.seen() + " " + output.commands().paragraph(e.remedy()));
      return false;
    }
  }

  /** What is typed; where nobody answers any more, what was answered is not lost. */
  private String line(String question) {
    session.flush();
    Optional<String> answer = session.prompt().line(question);
    if (answer.isEmpty()) {
      throw Usage.wrong(
          "The questions were not answered to their end.",
          "Give the options instead; see symbolon request --help. What was answered so far: "
              + commandLine());
    }
    return answer.get().strip();
  }
}
