// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.RevokeDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Ledger;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** {@code symbolon authority revoke CERTIFICATE...}. */
final class AuthorityRevoke {
  private AuthorityRevoke() {}

  static CommandSpec spec() {
    return CommandSpec.of(AuthorityAction.REVOKE)
        .any(
            "CERTIFICATE",
            "What is no longer valid: a file with the certificate, its serial number or the first"
                + " eight digits of it or more, its common name or its user id.")
        .value("by", "FOLDER", "The folder of the authority.")
        .value(
            "reason",
            "REASON",
            "Why: "
                + Arrays.stream(RevocationReason.values())
                    .map(RevocationReason::word)
                    .collect(Collectors.joining(", "))
                + ".")
        .value(
            "lasts",
            "TIME",
            "How long the revocation list may be relied on; otherwise "
                + AuthorityFolder.LIST_LASTS
                + ". Servers refuse every client when that is over.")
        .flag("fresh", "Revoke nothing: write the list anew, so that it may be relied on longer.")
        .value("unlock", "SOURCE", "The password of the authority's key; asked for if not given.")
        .common();
  }

  static int run(Invocation invocation, GivenOptions given) {
    RevokeJob job = RevokeJob.of(given);
    AuthorityFolder folder = invocation.authority(job.by());
    Ledger before = folder.reconcile();
    Set<Certificate> meant = new LinkedHashSet<>();
    job.named().forEach(text -> meant.add(find(invocation, job, before, text)));
    List<Finding> findings = new ArrayList<>();
    for (Certificate certificate : meant) {
      if (before.revoked().containsKey(certificate.serial())) {
        findings.add(
            Finding.of(
                FindingKind.REVOKED_ALREADY,
                certificate.serialHex(),
                "The certificate of "
                    + certificate.subject().shortText()
                    + " is revoked already; when and why stay as they were.",
                ""));
      }
    }
    if (!meant.isEmpty() && findings.size() == meant.size()) {
      return nothingToDo(invocation, folder, job, before, findings);
    }
    SigningAuthority authority = OpenedAuthority.of(invocation, folder, job.unlock());
    Ledger ledger = authority.revoke(meant, job.reason(), job.lasts());
    findings.addAll(ledger.findings());
    findings.addAll(invocation.notices());
    Report report = new Report(folder, List.copyOf(meant), job.reason(), ledger, findings);
    if (invocation.output().isJson()) {
      invocation.output().json(report.document(invocation.output()));
    } else {
      report.print(invocation.output());
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  /** All of them were revoked before: the list stays as it is. */
  private static int nothingToDo(
      Invocation invocation,
      AuthorityFolder folder,
      RevokeJob job,
      Ledger ledger,
      List<Finding> findings) {
    Report report = new Report(folder, List.of(), job.reason(), ledger, findings);
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(report.document(output));
    } else {
      output.line(
          output.paint().heading("Nothing was done: ")
              + "all of them are revoked already, and the list was left as it is");
      new FindingsSection(output).print(findings);
    }
    return ExitCode.DONE;
  }

  private static Certificate find(
      Invocation invocation, RevokeJob job, Ledger ledger, String text) {
    Path file = GivenOptions.path(text);
    if (Files.isRegularFile(file)) {
      // Whatever the file is, a certificate of ours in it is meant; its password may be among
      // these.
      Survey survey = invocation.survey(List.of(file), invocation.unlock(job.unlock()));
      List<Certificate> ours =
          survey.certificates().keySet().stream().filter(ledger.issued()::contains).toList();
      if (ours.isEmpty()) {
        throw noneOfOurs(survey, file);
      }
      return one(ours, text);
    }
    return one(ledger.find(text), text);
  }

  private static SymbolonException noneOfOurs(Survey survey, Path file) {
    Optional<SymbolonException> failure = survey.failures().stream().findFirst();
    if (failure.isPresent()) {
      return failure.get().restated("Nothing was revoked.");
    }
    int count = survey.certificates().size();
    return new SymbolonException(
        Reason.NOT_FOUND,
        "Nothing was revoked.",
        Output.shown(file)
            + (count == 0
                ? " holds no certificate."
                : " holds "
                    + HoldingText.count(count, "certificate")
                    + ", and this authority has issued none of them."),
        "Check the file with symbolon survey, and the authority with symbolon authority list.");
  }

  private static Certificate one(List<Certificate> found, String text) {
    if (found.size() == 1) {
      return found.get(0);
    }
    throw new SymbolonException(
        found.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "Nothing was revoked.",
        found.isEmpty()
            ? "This authority has issued no certificate '" + Output.shown(text) + "'."
            : found.size()
                + " certificates answer to '"
                + Output.shown(text)
                + "': "
                + found.stream()
                    .limit(5)
                    .map(
                        one ->
                            one.serialHex().substring(0, Math.min(16, one.serialHex().length()))
                                + " until "
                                + HoldingText.day(one.notAfter()))
                    .collect(Collectors.joining(", "))
                + ".",
        "See symbolon authority list, and name it by its serial number.");
  }

  private record Report(
      AuthorityFolder folder,
      List<Certificate> certificates,
      RevocationReason reason,
      Ledger ledger,
      List<Finding> findings) {
    void print(Output output) {
      Paint paint = output.paint();
      output.line(
          certificates.isEmpty()
              ? paint.heading("Wrote the revocation list anew")
              : paint.heading("Revoked ")
                  + HoldingText.count(certificates.size(), "certificate")
                  + paint.faint("  reason: " + reason.word()));
      for (Certificate certificate : certificates) {
        output.line(
            "  "
                + HoldingText.name(certificate.subject())
                + paint.faint("  " + certificate.serialHex()));
      }
      String next =
          ledger
              .list()
              .flatMap(list -> list.nextUpdate())
              .map(HoldingText::day)
              .map(Object::toString)
              .orElse("?");
      output.line(
          "  list     "
              + Output.shown(folder.folder().resolve(AuthorityFolder.REVOCATIONS))
              + paint.faint(
                  "  "
                      + HoldingText.count(
                          ledger.list().map(list -> list.size()).orElse(0), "certificate")
                      + ", to be relied on until "
                      + next));
      new FindingsSection(output).print(findings);
      output.line("");
      output.wrapped(
          "  ",
          "Give the list to the servers that check clients; it says nothing to anybody else. A web"
              + " server that is given one wants the lists of all authorities of the chain, one"
              + " behind the other in one file.");
    }

    RevokeDocument document(Output output) {
      return new RevokeDocument(
          "authority revoke",
          new RevokeDocument.WrittenList(
              folder.folder().resolve(AuthorityFolder.REVOCATIONS).toString(),
              ledger.list().map(list -> list.size()).orElse(0),
              ledger.list().flatMap(list -> list.nextUpdate()).map(Object::toString).orElse(""),
              CertificateDocument.all(certificates)),
          FindingDocument.all(findings, output.commands()));
    }
  }
}
