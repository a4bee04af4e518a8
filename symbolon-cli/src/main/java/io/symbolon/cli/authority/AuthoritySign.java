// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FailureDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.SignDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.cli.write.OutputProtection;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.cli.write.WrittenText;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.format.Ability;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.ReceivedRequest;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Signed;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.issue.SigningOrder;
import io.symbolon.key.KeyForm;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

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
    SignJob job = SignJob.of(given);
    AuthorityFolder folder = invocation.authority(job.by());
    Destination destination = job.destination();
    destination.check(job.result().existing());
    Path path = job.request();
    CertificateRequest request = request(invocation, path);
    ReceivedRequest intake =
        ReceivedRequest.of(request, job.use(), job.hosts(), Output.shown(path));
    SigningOrder order = new SigningOrder(intake.draft(), job.lasts());
    Output output = invocation.output();
    SigningAuthority authority =
        OpenedAuthority.of(invocation, folder, job.unlock()).publishing(job.published());
    Instant now = invocation.session().clock().instant();
    List<Finding> findings = new ArrayList<>(intake.findings());
    findings.addAll(authority.authority().judge(order, now, Output.shown(path)));
    findings.addAll(authority.findings());
    Optional<Finding> problem =
        findings.stream()
            .filter(f -> f.level() == io.symbolon.finding.Level.PROBLEM)
            .filter(f -> !f.is(FindingKind.REGISTER_CHANGED)) // told, and no fault of the request
            .findFirst();
    if (problem.isPresent()) {
      return refused(invocation, findings, problem.get());
    }
    Optional<Finding> unusual = intake.unusual();
    boolean asked = invocation.session().prompt().isAttended() && !output.isJson();
    if (unusual.isPresent() && !job.unasked() && !asked) {
      return refused(invocation, findings, unusual.get());
    }
    if (!output.isJson()) {
      show(output, order, request, authority);
    }
    if (!agreed(invocation, job)) {
      output.line("Nothing was signed.");
      return ExitCode.DONE;
    }
    Signed<Certificate> signed = authority.signUnrecorded(order, request.publicKey());
    Certificate certificate = signed.value();
    WrittenResult result = write(invocation, job, authority, signed);
    findings.addAll(result.findings());
    findings.addAll(invocation.notices());
    Report report = new Report(certificate, folder, result, findings);
    if (output.isJson()) {
      output.json(report.document(output));
    } else {
      report.print(output);
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static CertificateRequest request(Invocation invocation, Path path) {
    Survey survey = invocation.survey(List.of(path), List.of());
    List<RequestStatus> requests = survey.requests();
    if (requests.size() == 1) {
      return requests.get(0).request().request();
    }
    throw survey.failures().stream()
        .findFirst()
        .orElseGet(
            () ->
                new SymbolonException(
                    requests.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
                    "Nothing was signed.",
                    Output.shown(path)
                        + " holds "
                        + (requests.isEmpty() ? "no request." : requests.size() + " requests."),
                    "Name a file with one certificate signing request."));
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
        problem.statement(),
        invocation.output().commands(),
        problem.remedy());
    return ExitCode.NOT_WRITTEN;
  }

  /** What will be signed, before it is. */
  private static void show(
      Output output, SigningOrder order, CertificateRequest request, SigningAuthority authority) {
    Paint paint = output.paint();
    RequestDraft draft = order.draft();
    output.line(
        paint.heading("To be signed by ")
            + HoldingText.name(authority.authority().certificate().subject()));
    output.line("  subject  " + (draft.subject().isEmpty() ? "(empty)" : draft.subject()));
    NamesText.print(output, draft.names());
    output.line("  for      " + draft.use().title() + paint.faint("  no authority"));
    output.line("  lasts    " + order.lasts().title());
    output.line(
        "  key      "
            + request.publicKey().description()
            + paint.good("  the request is signed with it"));
  }

  private static boolean agreed(Invocation invocation, SignJob job) {
    Session.Prompt prompt = invocation.session().prompt();
    if (job.unasked() || invocation.output().isJson() || !prompt.isAttended()) {
      return true;
    }
    invocation.session().flush();
    return prompt.agrees("Sign it?");
  }

  /** The certificate is recorded when its file is ready, and gets its name then. */
  private static WrittenResult write(
      Invocation invocation, SignJob job, SigningAuthority authority, Signed<Certificate> signed) {
    Destination destination = job.destination();
    List<Certificate> chain = new ArrayList<>(authority.authority().chainOf(signed.value()));
    if (job.withoutRoot()) {
      chain.removeIf(Certificate::isSelfSigned);
    }
    List<Certificate> written =
        destination.target().can(Ability.CHAINS) ? chain : List.of(signed.value());
    List<StoreEntry.Plain> entries =
        written.stream()
            .map(one -> new StoreEntry.Plain(Optional.empty(), one, Optional.empty()))
            .toList();
    try {
      return WrittenResult.write(
          invocation,
          destination,
          Conversion.of(
              Bundle.of(entries), destination.target(), KeyForm.PKCS8, destination.shown()),
          job.result().existing(),
          OutputProtection.none(),
          List.of(),
          signed::record);
    } catch (SymbolonException e) {
      throw NotHandedOut.reply(signed, authority.folder(), e);
    }
  }

  private record Report(
      Certificate certificate,
      AuthorityFolder folder,
      WrittenResult result,
      List<Finding> findings) {
    void print(Output output) {
      Paint paint = output.paint();
      output.line("");
      output.line(
          paint.heading("Signed ")
              + HoldingText.name(certificate.subject())
              + ", until "
              + HoldingText.day(certificate.notAfter()));
      output.line("  serial   " + certificate.serialHex());
      output.line("  SHA-256  " + certificate.sha256());
      new WrittenText(output, result).where("");
      output.line(
          "  kept     "
              + Output.shown(folder.folder())
              + paint.faint("  the certificate is on record there"));
      new FindingsSection(output).print(findings);
    }

    SignDocument document(Output output) {
      return new SignDocument(
          "authority sign",
          new SignDocument.SignedCertificate(
              CertificateDocument.of(certificate), result.document()),
          FindingDocument.all(findings, output.commands()));
    }
  }
}
