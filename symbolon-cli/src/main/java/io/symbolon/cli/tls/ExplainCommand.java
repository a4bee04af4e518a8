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

  private record ExplainedText(String name, List<FailureText.Explanation> explanations) {}

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

  private static ExplainedText explain(String name, byte[] text) {
    return new ExplainedText(
        name, FailureText.explain(new String(text, StandardCharsets.UTF_8), name));
  }

  private static byte[] standardInput(Session session) {
    try {
      return session.in().readNBytes(Limits.LOG_BYTES);
    } catch (IOException e) {
      throw unreadable("Standard input", "The system says: " + e.getMessage() + ".", e);
    }
  }

  private static byte[] read(Path path) {
    try (InputStream in = Files.newInputStream(path)) {
      in.skipNBytes(Math.max(0, Files.size(path) - Limits.LOG_BYTES));
      return in.readNBytes(Limits.LOG_BYTES);
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
        "explain", failures, FindingDocument.all(findings, output.commands()));
  }
}
