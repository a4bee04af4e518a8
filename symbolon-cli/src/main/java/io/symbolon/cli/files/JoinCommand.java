// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.JoinDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.output.WrittenText;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joined;
import io.symbolon.task.join.JoinJob;
import io.symbolon.task.join.JoinReport;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.x509.Certificate;
import java.util.List;

/** {@code symbolon join FILE...}. */
public final class JoinCommand {
  private JoinCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .files("FILE", "The private key, its certificate and the chain: any files, in any order.")
        .writing("keystore.p12")
        .keyWriting()
        .unlock()
        .value(
            "alias",
            "NAME",
            "The alias in the result; where there are several keys, also which one is meant. Where"
                + " --replace names a keystore with this alias, its key is renewed, and all other"
                + " entries stay.")
        .flag("with-root", "Put the root into the chain as well.")
        .incompleteChains()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    JoinReport report = job(given).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(report, output));
    } else {
      print(output, report);
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static JoinJob job(GivenOptions given) {
    JoinJob.Builder job = JoinJob.of(given.paths()).unlock(given.unlock()).options(options(given));
    if (given.has("into")) {
      job.into(DestinationChoice.of(given));
    }
    given.value("as").map(DestinationChoice::ofWord).ifPresent(job::format);
    return job.result(ResultChoice.of(given)).build();
  }

  private static JoinOptions options(GivenOptions given) {
    JoinOptions options = JoinOptions.standard();
    if (given.value("alias").isPresent()) {
      options = options.withAlias(given.value("alias").get());
    }
    if (given.has("with-root")) {
      options = options.with(JoinOptions.Root.INCLUDED);
    }
    return given.chains(options);
  }

  private static void print(Output output, JoinReport report) {
    Joined joined = report.joined();
    WrittenResult result = report.result();
    Paint paint = output.paint();
    var key = joined.credential().key();
    output.line(
        paint.heading(report.inPlace() ? "Completed " : "Joined ")
            + HoldingText.name(joined.credential().certificate().subject()));
    output.line(
        "  key      "
            + key.description()
            + (report.isProven()
                ? paint.good("  fits: proven by a signature")
                : "  fit not checked"));
    String lead = "  chain    ";
    for (Certificate certificate : joined.credential().chain()) {
      output.line(lead + line(report, certificate, paint));
      lead = "           ";
    }
    for (Certificate certificate : joined.chain().certificates()) {
      if (!joined.credential().chain().contains(certificate)) {
        output.line(
            "           "
                + paint.faint(
                    "left out: "
                        + HoldingText.name(certificate.subject())
                        + " (root); clients have it, or --with-root"));
      }
    }
    WrittenText text = new WrittenText(output, result);
    text.where(
        result.destination().target().isStore()
            ? ", alias '" + HoldingText.plain(report.alias()) + "'" + others(report)
            : "");
    text.findings(report.findings());
  }

  private static String others(JoinReport report) {
    int others = report.others();
    return others > 0
        ? ", " + (others == 1 ? "the other entry" : "the " + others + " others") + " as before"
        : "";
  }

  private static String line(JoinReport report, Certificate certificate, Paint paint) {
    String place =
        report.survey().certificates().getOrDefault(certificate, List.of()).stream()
            .findFirst()
            .map(p -> p.place().toString())
            .orElse("known to this Java");
    return HoldingText.name(certificate.subject())
        + " ("
        + HoldingText.role(certificate)
        + "), until "
        + HoldingText.day(certificate.notAfter())
        + "  "
        + paint.faint(place);
  }

  private static JoinDocument document(JoinReport report, Output output) {
    Joined joined = report.joined();
    return new JoinDocument(
        "join",
        new JoinDocument.JoinedCredential(
            WrittenDocument.of(report.result()),
            report.alias(),
            report.inPlace(),
            report.isProven(),
            joined.chain().isComplete(),
            CertificateDocument.all(joined.credential().chain())),
        FindingDocument.all(report.findings(), output.commands()));
  }
}
