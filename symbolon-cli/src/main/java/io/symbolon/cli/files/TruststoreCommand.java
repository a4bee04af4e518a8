// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.TruststoreDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.output.WrittenText;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.entry.StoreEntry;
import io.symbolon.finding.Finding;
import io.symbolon.join.TrustSelector.Choice;
import io.symbolon.join.TruststoreContent;
import io.symbolon.task.result.Destination;
import io.symbolon.task.truststore.TruststoreJob;
import io.symbolon.task.truststore.TruststoreReport;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** {@code symbolon truststore FILE...}. */
public final class TruststoreCommand {
  private static final int SHOWN = 30;

  private TruststoreCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .files(
            "FILE",
            "Anything that holds the certificates to trust. A private key in it is left out.")
        .writing("truststore.p12")
        .protection()
        .unlock()
        .flag(
            "add",
            "Add to the truststore that --into names. It is opened with --unlock and, without --seal,"
                + " keeps its password.")
        .flag("all", "Take every certificate, not the authorities' alone.")
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    TruststoreReport report = job(given).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(report, output));
    } else {
      print(output, report);
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static TruststoreJob job(GivenOptions given) {
    Destination destination = given.has("add") ? present(given) : DestinationChoice.of(given);
    TruststoreJob.Builder job =
        TruststoreJob.of(given.paths(), destination)
            .unlock(given.unlock())
            .choice(given.has("all") ? Choice.ALL : Choice.AUTHORITIES);
    if (given.has("add")) {
      job.add();
    }
    return job.result(ResultChoice.of(given)).build();
  }

  /** A truststore that is there has its format, whatever it is called. */
  private static Destination present(GivenOptions given) {
    Optional<Path> into = given.pathOf("into");
    if (given.has("as") || into.isEmpty() || !Files.isRegularFile(into.get())) {
      return DestinationChoice.of(given);
    }
    return TruststoreJob.present(into.get())
        .map(there -> there.ownedBy(given.owner()))
        .orElseGet(() -> DestinationChoice.of(given));
  }

  private static void print(Output output, TruststoreReport report) {
    TruststoreContent trust = report.trust();
    boolean add = report.isAdded();
    Paint paint = output.paint();
    if (add && trust.added().isEmpty()) {
      output.line(
          paint.heading("Nothing to add: ")
              + report.destination().shown()
              + " trusts all of them already and was left as it is");
    } else {
      output.line(
          paint.heading(add ? "Added to the truststore" : "Made a truststore")
              + paint.faint(
                  "  "
                      + HoldingText.count(trust.entries().size(), "certificate")
                      + (add ? ", " + trust.added().size() + " of them new" : "")));
    }
    List<StoreEntry.Trusted> shown = add ? trust.added() : trust.entries();
    int width = shown.stream().limit(SHOWN).mapToInt(e -> e.alias().length()).max().orElse(1);
    shown.stream().limit(SHOWN).forEach(entry -> print(output, entry, width));
    if (shown.size() > SHOWN) {
      output.line(paint.faint("  and " + (shown.size() - SHOWN) + " more; --json lists all"));
    }
    if (report.result().isPresent()) {
      new WrittenText(output, report.result().get()).where("");
    }
    if (!report.findings().isEmpty()) {
      output.line("");
      output.line(paint.heading("Findings"));
      FindingsText.print(output, report.findings());
    }
  }

  private static void print(Output output, StoreEntry.Trusted entry, int width) {
    var certificate = entry.certificate();
    output.line(
        String.format("  %-" + width + "s  ", HoldingText.plain(entry.alias()))
            + HoldingText.name(certificate.subject())
            + " ("
            + HoldingText.role(certificate)
            + "), until "
            + HoldingText.day(certificate.notAfter()));
    output.line(
        "  " + " ".repeat(width) + output.paint().faint("  SHA-256 " + certificate.sha256()));
  }

  private static TruststoreDocument document(TruststoreReport report, Output output) {
    TruststoreContent trust = report.trust();
    Optional<WrittenDocument> written = report.result().map(WrittenDocument::of);
    return new TruststoreDocument(
        "truststore",
        new TruststoreDocument.WrittenTruststore(
            report.destination().path().toString(),
            report.destination().target().word(),
            written.map(WrittenDocument::files),
            written.flatMap(WrittenDocument::sealed),
            trust.added().size(),
            trust.entries().stream()
                .map(
                    entry ->
                        new TruststoreDocument.TrustedEntry(
                            entry.alias(), CertificateDocument.of(entry.certificate())))
                .toList()),
        FindingDocument.all(report.findings(), output.commands()));
  }
}
