// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FailureDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.SignDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.OptionNames;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.output.WrittenText;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.issue.RequestDraft;
import io.symbolon.task.authority.IssueJob;
import io.symbolon.task.authority.SignJob;
import io.symbolon.task.authority.SignPlan;
import io.symbolon.task.authority.SignReport;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.List;

/** {@code symbolon authority sign REQUEST}. */
final class AuthoritySign {
  private AuthoritySign() {}

  static CommandSpec spec() {
    return CommandSpec.of(AuthorityAction.SIGN)
        .one("REQUEST", "The file with the request, PEM or DER.")
        .value("by", "FOLDER", "The folder of the authority.")
        .value("for", "USE", "What for: server, client or both; otherwise what the request says.")
        .value(
            "host",
            "NAME",
            "A host that it covers, instead of those in the request. May be given several times.")
        .value("lasts", "TIME", "How long it is valid, such as 90d; 397d by default.")
        .value(
            "list-at",
            "URL",
            "Where the revocation list of the authority is published over HTTP; it stands in the"
                + " certificate.")
        .value(
            "into",
            "PATH",
            "Where the certificate and its chain go, such as reply.pem; .der takes the certificate"
                + " alone, .p7b both.")
        .value("as", "FORMAT", "The format: pem, der, pkcs7 or pkcs7-pem.")
        .flag("without-root", "Leave the root out of the chain; whoever joins it has it then.")
        .flag("replace", "Replace an existing file; the command undo brings the old one back.")
        .flag("yes", "Sign without asking at a terminal.")
        .value("unlock", "SOURCE", "The password of the authority's key; asked for if not given.")
        .common();
  }

  static int run(Invocation invocation, GivenOptions given) {
    Output output = invocation.output();
    SignPlan plan = job(given).plan(invocation.task());
    if (plan.refusal().isPresent()) {
      return refused(invocation, plan.findings(), plan.refusal().get());
    }
    boolean unasked = given.has("yes");
    boolean asked = invocation.session().prompt().isAttended() && !output.isJson();
    if (plan.unusual().isPresent() && !unasked && !asked) {
      return refused(invocation, plan.findings(), plan.unusual().get());
    }
    if (!output.isJson()) {
      show(output, plan);
    }
    if (!unasked && asked && !agreed(invocation)) {
      output.line("Nothing was signed.");
      return ExitCode.DONE;
    }
    SignReport report = plan.sign(invocation.task());
    if (output.isJson()) {
      output.json(document(report, output));
    } else {
      print(output, report);
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static SignJob job(GivenOptions given) {
    Path by = given.by();
    return new SignJob(
        GivenOptions.path(given.argument()),
        by,
        given.use(),
        given.hosts(),
        given.lasts().orElse(IssueJob.USUAL),
        DestinationChoice.of(given),
        given.has("without-root"),
        given.unlock(),
        ResultChoice.of(given),
        AuthorityIssue.published(given));
  }

  private static boolean agreed(Invocation invocation) {
    invocation.session().flush();
    return invocation.session().prompt().agrees("Sign it?");
  }

  static int refused(Invocation invocation, List<Finding> findings, Finding problem) {
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(FailureDocument.of(invocation.action().words(), findings, output.commands()));
    } else {
      FindingsText.print(output, findings);
    }
    Usage.failed(
        invocation.session(),
        invocation.action(),
        "Nothing was signed.",
        problem.statement(OptionNames::mention),
        invocation.output().commands(),
        problem.remedy());
    return ExitCode.NOT_WRITTEN;
  }

  /** What will be signed, before it is. */
  private static void show(Output output, SignPlan plan) {
    Paint paint = output.paint();
    RequestDraft draft = plan.order().draft();
    output.line(paint.heading("To be signed by ") + HoldingText.name(plan.signer().subject()));
    output.line("  subject  " + (draft.subject().isEmpty() ? "(empty)" : draft.subject()));
    NamesText.print(output, draft.names());
    output.line("  for      " + draft.use().title() + paint.faint("  no authority"));
    output.line("  lasts    " + plan.order().lasts().title());
    output.line(
        "  key      "
            + plan.request().publicKey().description()
            + paint.good("  the request is signed with it"));
  }

  private static void print(Output output, SignReport report) {
    Certificate certificate = report.certificate();
    Paint paint = output.paint();
    output.line("");
    output.line(
        paint.heading("Signed ")
            + HoldingText.name(certificate.subject())
            + ", until "
            + HoldingText.day(certificate.notAfter()));
    output.line("  serial   " + certificate.serialHex());
    output.line("  SHA-256  " + certificate.sha256());
    new WrittenText(output, report.result()).where("");
    output.line(
        "  kept     "
            + Output.shown(report.folder().folder())
            + paint.faint("  the certificate is on record there"));
    new FindingsSection(output).print(report.findings());
  }

  private static SignDocument document(SignReport report, Output output) {
    return new SignDocument(
        "authority sign",
        new SignDocument.SignedCertificate(
            CertificateDocument.of(report.certificate()), WrittenDocument.of(report.result())),
        FindingDocument.all(report.findings(), output.commands()));
  }
}
