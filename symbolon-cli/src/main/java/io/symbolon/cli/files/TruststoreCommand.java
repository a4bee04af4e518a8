// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.TruststoreDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.SealPassword;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.write.OutputProtection;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.cli.write.WrittenText;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.entry.StoreEntry;
import io.symbolon.file.Existing;
import io.symbolon.file.Snapshot;
import io.symbolon.finding.Finding;
import io.symbolon.join.TrustSelector;
import io.symbolon.join.TruststoreContent;
import io.symbolon.key.KeyForm;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Survey;
import java.util.ArrayList;
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
    TruststoreJob job = TruststoreJob.of(given);
    job.destination().check(job.existing());
    List<Secret> unlock = invocation.unlock(job.unlock());
    Report report =
        invocation.holding(
            List.of(job.destination().path()),
            job.result(),
            () -> job.add() ? added(invocation, job, unlock) : made(invocation, job, unlock));
    if (invocation.output().isJson()) {
      invocation.output().json(report.document(invocation.output()));
    } else {
      report.print(invocation.output());
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static Report made(Invocation invocation, TruststoreJob job, List<Secret> unlock) {
    TruststoreContent trust =
        TrustSelector.select(invocation.survey(job.files(), unlock), job.choice());
    Conversion conversion = conversion(job.destination(), trust);
    return new Report(
        job.destination(),
        trust,
        false,
        invocation.notices(),
        Optional.of(WrittenResult.write(invocation, job.result(), job.destination(), conversion)));
  }

  private static Conversion conversion(Destination destination, TruststoreContent trust) {
    return Conversion.of(
        Bundle.of(trust.entries()), destination.target(), KeyForm.PKCS8, destination.shown());
  }

  private static Report added(Invocation invocation, TruststoreJob job, List<Secret> unlock) {
    Survey survey = invocation.survey(job.files(), unlock);
    Destination given = job.destination();
    Destination destination = Snapshot.of(given.path()).map(given::expecting).orElse(given);
    FileSurvey present = invocation.survey(List.of(destination.path()), unlock).files().get(0);
    if (present.failure().isEmpty()
        && !present.format().word().equals(destination.target().word())) {
      throw Usage.wrong(
          destination.shown()
              + " is "
              + present.format().title()
              + ", and the result would be "
              + destination.target().title()
              + ".",
          "Say its format with --as, or make a new truststore of it with another name.");
    }
    TruststoreContent trust = TrustSelector.add(present, survey, job.choice());
    if (trust.added().isEmpty()) {
      return new Report(destination, trust, true, invocation.notices(), Optional.empty());
    }
    Conversion conversion = conversion(destination, trust);
    boolean keepsPassword =
        destination.target().isStore()
            && job.result().seal().isEmpty()
            && present.opener().isPresent();
    WrittenResult result =
        keepsPassword
            ? WrittenResult.write(
                invocation,
                destination,
                conversion,
                Existing.REPLACE,
                OutputProtection.of(
                    new SealPassword(present.opener().get(), Existing.REPLACE),
                    job.result().strength(destination.target())),
                List.of())
            : WrittenResult.write(
                invocation,
                destination,
                conversion,
                Existing.REPLACE,
                OutputProtection.of(invocation, job.result(), destination, false),
                List.of());
    return new Report(destination, trust, true, invocation.notices(), Optional.of(result));
  }

  private record Report(
      Destination destination,
      TruststoreContent trust,
      boolean add,
      List<Finding> notices,
      Optional<WrittenResult> result) {
    List<Finding> findings() {
      List<Finding> findings = new ArrayList<>(trust.findings());
      result.ifPresent(written -> findings.addAll(written.findings()));
      findings.addAll(notices);
      return findings;
    }

    void print(Output output) {
      Paint paint = output.paint();
      if (add && trust.added().isEmpty()) {
        output.line(
            paint.heading("Nothing to add: ")
                + destination.shown()
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
      if (result.isPresent()) {
        new WrittenText(output, result.get()).where("");
      }
      if (!findings().isEmpty()) {
        output.line("");
        output.line(paint.heading("Findings"));
        FindingsText.print(output, findings());
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

    TruststoreDocument document(Output output) {
      Optional<WrittenDocument> written = result.map(WrittenResult::document);
      return new TruststoreDocument(
          "truststore",
          new TruststoreDocument.WrittenTruststore(
              destination.path().toString(),
              destination.target().word(),
              written.map(WrittenDocument::files),
              written.flatMap(WrittenDocument::sealed),
              trust.added().size(),
              trust.entries().stream()
                  .map(
                      entry ->
                          new TruststoreDocument.TrustedEntry(
                              entry.alias(), CertificateDocument.of(entry.certificate())))
                  .toList()),
          FindingDocument.all(findings(), output.commands()));
    }
  }
}
