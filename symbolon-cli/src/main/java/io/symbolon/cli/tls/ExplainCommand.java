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
import io.symbolon.cli.session.Session;
import io.symbolon.explain.FailureText;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.limit.Limits;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** {@code symbolon explain [FILE...]}. */
public final class ExplainCommand {

  private static final int MEBIBYTES = Limits.LOG_BYTES >> 20;

  private ExplainCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .any(
            "FILE",
            "Logs and stack traces; without any, what comes on standard input. Of a file larger than"
                + " 64 MiB the end is read.")
        .common();
  }

  /** What was read of a text, and a sentence about what was not. */
  private record Part(String read, Optional<String> notRead) {}

  private record ExplainedText(
      String name, Optional<String> notRead, List<FailureText.Explanation> explanations) {}

  public static int run(Invocation invocation, GivenOptions given) {
    List<Path> files = given.paths();
    List<ExplainedText> sources = new ArrayList<>();
    if (files.isEmpty()) {
      sources.add(explain("standard input", standardInput(invocation.session())));
    }
    for (Path path : files) {
      sources.add(explain(Output.shown(path), read(path)));
    }
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(sources, output));
    } else {
      sources.forEach(source -> print(output, source));
    }
    return sources.stream().allMatch(source -> source.explanations().isEmpty())
        ? ExitCode.DONE
        : ExitCode.PROBLEM;
  }

  private static ExplainedText explain(String name, Part text) {
    return new ExplainedText(name, text.notRead(), FailureText.explain(text.read(), name));
  }

  private static Part standardInput(Session session) {
    try {
      byte[] read = session.in().readNBytes(Limits.LOG_BYTES);
      boolean more = read.length == Limits.LOG_BYTES && session.in().read() >= 0;
      return new Part(
          new String(read, StandardCharsets.UTF_8),
          more
              ? Optional.of(
                  "Of standard input the first "
                      + MEBIBYTES
                      + " MiB were read. What follows was not.")
              : Optional.empty());
    } catch (IOException e) {
      throw unreadable("Standard input", "The system says: " + e.getMessage() + ".", e);
    }
  }

  private static Part read(Path path) {
    try (InputStream in = Files.newInputStream(path)) {
      long before = Math.max(0, Files.size(path) - Limits.LOG_BYTES);
      in.skipNBytes(before);
      return new Part(
          new String(in.readNBytes(Limits.LOG_BYTES), StandardCharsets.UTF_8),
          before > 0
              ? Optional.of(
                  "Of "
                      + Output.shown(path)
                      + " the last "
                      + MEBIBYTES
                      + " MiB were read, and lines are counted from there. The "
                      + before
                      + " bytes before were not.")
              : Optional.empty());
    } catch (IOException e) {
      throw unreadable(
          "The file " + Output.shown(path),
          Files.exists(path) ? "The system does not let you." : "There is no such file.",
          e);
    }
  }

  private static SymbolonException unreadable(String what, String seen, IOException e) {
    return new SymbolonException(
        Reason.UNREADABLE, what + " can't be read.", seen, "Check the name and its rights.", e);
  }

  private static void print(Output output, ExplainedText source) {
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

  private static ExplainDocument document(List<ExplainedText> sources, Output output) {
    List<ExplainDocument.ExplainedFailure> failures = new ArrayList<>();
    List<Finding> findings = new ArrayList<>();
    for (ExplainedText source : sources) {
      for (FailureText.Explanation one : source.explanations()) {
        failures.add(
            new ExplainDocument.ExplainedFailure(
                source.name(), one.line(), one.times(), one.text(), one.finding().id()));
        findings.add(one.finding());
      }
    }
    return new ExplainDocument(
        "explain",
        sources.stream().flatMap(source -> source.notRead().stream()).toList(),
        failures,
        FindingDocument.all(findings, output.commands()));
  }
}
