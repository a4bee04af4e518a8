// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.RevokeDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Ledger;
import io.symbolon.task.authority.RevokeJob;
import io.symbolon.task.authority.RevokeReport;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
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
    RevokeReport report = job(given).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(report, output));
    } else if (report.listWritten()) {
      print(output, report);
    } else {
      output.line(
          output.paint().heading("Nothing was done: ")
              + "all of them are revoked already, and the list was left as it is");
      new FindingsSection(output).print(report.findings());
    }
    return report.listWritten() && Finding.anyProblem(report.findings())
        ? ExitCode.PROBLEM
        : ExitCode.DONE;
  }

  private static RevokeJob job(GivenOptions given) {
    Path by = given.by();
    List<String> named = given.arguments();
    if (named.isEmpty() != given.has("fresh")) {
      throw Usage.wrong(
          named.isEmpty()
              ? "No certificate is named."
              : "--fresh revokes nothing, and certificates are named.",
          named.isEmpty()
              ? "Name those to revoke, or say --fresh to write the list anew."
              : "Leave one of them out.");
    }
    RevokeJob job = named.isEmpty() ? RevokeJob.freshList(by) : RevokeJob.of(by, named);
    RevokeJob because =
        given.value("reason").map(AuthorityRevoke::reason).map(job::because).orElse(job);
    return given.lasts().map(because::lasting).orElse(because).unlocking(given.unlock());
  }

  private static RevocationReason reason(String word) {
    return RevocationReason.ofWord(word)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no reason '" + Output.shown(word) + "'.",
                    "See symbolon authority revoke --help."));
  }

  private static void print(Output output, RevokeReport report) {
    List<Certificate> certificates = report.certificates();
    Ledger ledger = report.ledger();
    Paint paint = output.paint();
    output.line(
        certificates.isEmpty()
            ? paint.heading("Wrote the revocation list anew")
            : paint.heading("Revoked ")
                + HoldingText.count(certificates.size(), "certificate")
                + paint.faint("  reason: " + report.reason().word()));
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
            + Output.shown(report.list())
            + paint.faint(
                "  "
                    + HoldingText.count(
                        ledger.list().map(list -> list.size()).orElse(0), "certificate")
                    + ", to be relied on until "
                    + next));
    new FindingsSection(output).print(report.findings());
    output.line("");
    output.wrapped(
        "  ",
        "Give the list to the servers that check clients; it says nothing to anybody else. A web"
            + " server that is given one wants the lists of all authorities of the chain, one"
            + " behind the other in one file.");
  }

  private static RevokeDocument document(RevokeReport report, Output output) {
    Ledger ledger = report.ledger();
    return new RevokeDocument(
        "authority revoke",
        new RevokeDocument.WrittenList(
            report.list().toString(),
            ledger.list().map(list -> list.size()).orElse(0),
            ledger.list().flatMap(list -> list.nextUpdate()).map(Object::toString).orElse(""),
            CertificateDocument.all(report.certificates())),
        FindingDocument.all(report.findings(), output.commands()));
  }
}
