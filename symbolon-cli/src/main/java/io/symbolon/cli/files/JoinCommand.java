// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.JoinDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.write.InPlace;
import io.symbolon.cli.write.OutputProtection;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.cli.write.WrittenText;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.InPlaceCompletion;
import io.symbolon.convert.StoreEdit;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.join.Joined;
import io.symbolon.join.Joiner;
import io.symbolon.key.Fit;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

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
    JoinJob job = JoinJob.of(given);
    job.into().ifPresent(destination -> destination.checkPrivate(job.result().existing()));
    List<Secret> unlock = invocation.unlock(job.unlock());
    Report report =
        invocation.holding(job.changed(), job.result(), () -> join(invocation, job, unlock));
    if (invocation.output().isJson()) {
      invocation.output().json(report.document(invocation.output()));
    } else {
      report.print(invocation.output());
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static Report join(Invocation invocation, JoinJob job, List<Secret> unlock) {
    Survey survey = invocation.survey(job.files(), unlock);
    Joined joined = Joiner.join(survey, job.options());
    Optional<Path> waiting =
        InPlaceCompletion.keystore(joined, survey, job.into().map(Destination::path));
    Optional<InPlaceCompletion> completion =
        waiting.map(store -> InPlaceCompletion.of(store, invocation.surveyor(unlock), joined));
    Optional<StoreEdit> renewed =
        completion.isPresent() ? Optional.empty() : renewed(invocation, job, unlock, joined);
    WrittenResult result =
        completion.isPresent()
            ? InPlace.write(invocation, job.result(), job.format(), completion.get(), waiting.get())
            : renewed.isPresent()
                ? renew(invocation, job, joined, renewed.get())
                : fresh(invocation, job, joined);
    String alias = completion.flatMap(InPlaceCompletion::alias).orElse(joined.alias());
    List<Finding> findings = new ArrayList<>(joined.findings());
    findings.addAll(result.findings());
    findings.addAll(invocation.notices());
    boolean kept = waiting.isPresent() || renewed.isPresent();
    return new Report(joined, alias, waiting.isPresent(), kept, result, findings, survey);
  }

  /**
   * The keystore that the result replaces, where it has a key with the same alias: that key is
   * renewed, and all else in the keystore stays. One that can't be read wholly is replaced as a
   * whole, and what is lost by that is told.
   */
  private static Optional<StoreEdit> renewed(
      Invocation invocation, JoinJob job, List<Secret> unlock, Joined joined) {
    Destination into = job.into().orElseThrow();
    if (!job.result().replaces() || !into.target().isStore() || !Files.isRegularFile(into.path())) {
      return Optional.empty();
    }
    try {
      return Optional.of(StoreEdit.open(into.path(), invocation.surveyor(unlock)))
          .filter(edit -> edit.target() == into.target() && edit.holdsKey(joined.alias()));
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  private static WrittenResult renew(
      Invocation invocation, JoinJob job, Joined joined, StoreEdit edit) {
    Destination destination = job.into().orElseThrow().expecting(edit.snapshot());
    return WrittenResult.write(
        invocation,
        destination,
        edit.renewed(joined.toEntry()),
        job.result().existing(),
        OutputProtection.of(invocation, job.result(), destination, edit),
        List.of());
  }

  private static WrittenResult fresh(Invocation invocation, JoinJob job, Joined joined) {
    Destination destination = job.into().orElseThrow();
    Conversion conversion =
        Conversion.of(
            Bundle.of(List.of(joined.toEntry())),
            destination.target(),
            job.result().keyForm(),
            destination.shown());
    return WrittenResult.write(invocation, job.result(), destination, conversion);
  }

  private record Report(
      Joined joined,
      String alias,
      boolean inPlace,
      boolean kept,
      WrittenResult result,
      List<Finding> findings,
      Survey survey) {
    void print(Output output) {
      Paint paint = output.paint();
      var key = joined.credential().key();
      boolean proven = joined.credential().fit() == Fit.FITS;
      output.line(
          paint.heading(inPlace ? "Completed " : "Joined ")
              + HoldingText.name(joined.credential().certificate().subject()));
      output.line(
          "  key      "
              + key.description()
              + (proven ? paint.good("  fits: proven by a signature") : "  fit not checked"));
      String lead = "  chain    ";
      for (Certificate certificate : joined.credential().chain()) {
        output.line(lead + line(certificate, paint));
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
              ? ", alias '" + HoldingText.plain(alias) + "'" + others()
              : "");
      text.findings(findings);
    }

    private String others() {
      int others = result.entries().size() - 1;
      return kept && others > 0
          ? ", " + (others == 1 ? "the other entry" : "the " + others + " others") + " as before"
          : "";
    }

    private String line(Certificate certificate, Paint paint) {
      String place =
          survey.certificates().getOrDefault(certificate, List.of()).stream()
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

    JoinDocument document(Output output) {
      return new JoinDocument(
          "join",
          new JoinDocument.JoinedCredential(
              result.document(),
              alias,
              inPlace,
              joined.credential().fit() == Fit.FITS,
              joined.chain().isComplete(),
              CertificateDocument.all(joined.credential().chain())),
          FindingDocument.all(findings, output.commands()));
    }
  }
}
