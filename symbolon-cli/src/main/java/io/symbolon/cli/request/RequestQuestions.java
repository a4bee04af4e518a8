// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.Dialogue;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Question;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.task.request.RequestJob;
import io.symbolon.task.request.RequestPlan;
import java.util.Optional;
import org.apache.commons.cli.ParseException;

/**
 * Asks a person for each part of a request, and back again. The answers become a command line,
 * which is shown, run after a yes, and can be given again without any question.
 */
final class RequestQuestions {
  private final Invocation invocation;
  private final Output output;
  private final QuestionPlan questions;
  private final RequestAnswers answers;
  private final Dialogue dialogue;

  private RequestQuestions(Invocation invocation, GivenOptions given) {
    this.invocation = invocation;
    this.output = invocation.output();
    this.questions = new QuestionPlan(given, invocation.task().around());
    this.answers = new RequestAnswers(given);
    this.dialogue = new Dialogue(invocation, "request", answers.kept(), this::commandLine);
  }

  static int run(Invocation invocation, GivenOptions given) {
    return new RequestQuestions(invocation, given).run();
  }

  private int run() {
    dialogue.begin("A certificate signing request, part by part");
    while (true) {
      Optional<Question> question = questions.next(answers);
      if (question.isPresent()) {
        dialogue.ask(question.get());
        continue;
      }
      RequestJob job;
      RequestPlan plan;
      try {
        job = job();
        plan = job.plan(invocation.task());
      } catch (SymbolonException e) {
        // What fits no other answer is asked for again, and nothing that was typed is lost.
        dialogue.tell(e);
        if (!answers.kept().takeBack()) {
          throw e;
        }
        continue;
      }
      show(plan);
      if (Finding.anyProblem(plan.findings())) {
        FindingsText.print(output, plan.findings());
        output.wrapped(
            "  ", "It can't be written so. The questions come again, with your answers.");
        answers.kept().takeAllBack();
        continue;
      }
      switch (dialogue.agreed("Write it?")) {
        case BACK -> {
          boolean unused = answers.kept().takeBack();
        }
        case YES -> {
          return RequestCommand.write(invocation, job, plan);
        }
        case NO -> {
          output.line("Nothing was written.");
          return ExitCode.DONE;
        }
      }
    }
  }

  private RequestJob job() {
    try {
      return RequestCommand.job(
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
    dialogue.showCommand();
  }

  private String commandLine() {
    return "symbolon request " + output.commands().shell().line(answers.arguments());
  }
}
