// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.ToldFailure;
import io.symbolon.cli.session.Session;
import io.symbolon.failure.SymbolonException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * Asks a person one question after the other, and back again. The answers become a command line,
 * which is shown, run after a yes, and can be given again without any question.
 */
public final class Dialogue {
  private static final String BACK = "<";
  private static final String NONE = "-";

  private final Session session;
  private final Output output;
  private final String command;
  private final KeptAnswers answers;
  private final Supplier<String> commandLine;

  /** What a person says at the end. */
  public enum Verdict {
    YES,
    NO,
    BACK
  }

  /**
   * A dialogue.
   *
   * @param command the command whose options are asked for
   * @param commandLine what was answered so far, as it can be pasted
   */
  public Dialogue(
      Invocation invocation, String command, KeptAnswers answers, Supplier<String> commandLine) {
    this.session = invocation.session();
    this.output = invocation.output();
    this.command = command;
    this.answers = answers;
    this.commandLine = commandLine;
  }

  /** How to answer. */
  public void begin(String heading) {
    output.line(output.paint().heading(heading));
    output.wrapped(
        "  ",
        "An empty answer takes what stands in brackets, or leaves the part out; - leaves it out in"
            + " any case; < goes back to the question before, and your answers are kept. Nothing is"
            + " written before you have seen all of it and said yes.");
  }

  /** Asks until the answer can be used, or is to go back. */
  public void ask(Question question) {
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

  private boolean isTaken(Question question, String meant) {
    try {
      List<Question.Remark> remarks = question.judge().apply(meant);
      remarks.forEach(remark -> output.wrapped("  ", remark.text()));
      return remarks.stream().noneMatch(Question.Remark::refused);
    } catch (SymbolonException e) {
      tell(e);
      return false;
    }
  }

  /** Why something can't be used. */
  public void tell(SymbolonException e) {
    output.wrapped("  ", ToldFailure.of(e).seen() + " " + output.commands().paragraph(e.remedy()));
  }

  /** The command line for the next time. */
  public void showCommand() {
    output.line("");
    output.line(output.paint().heading("The same as one command line, for next time"));
    output.pasted("  " + output.paint().command(commandLine.get()));
    output.line("");
  }

  /** The last question. */
  public Verdict agreed(String question) {
    String answer = line("  " + question + " (yes, no, or < to go back) ").toLowerCase(Locale.ROOT);
    return answer.equals(BACK)
        ? Verdict.BACK
        : answer.equals("yes") || answer.equals("y") ? Verdict.YES : Verdict.NO;
  }

  /** What is typed; where nobody answers any more, what was answered is not lost. */
  private String line(String question) {
    session.flush();
    Optional<String> answer = session.prompt().line(question);
    if (answer.isEmpty()) {
      throw Usage.wrong(
          "The questions were not answered to their end.",
          "Give the options instead; see symbolon "
              + command
              + " --help. What was answered so far: "
              + commandLine.get());
    }
    return answer.get().strip();
  }
}
