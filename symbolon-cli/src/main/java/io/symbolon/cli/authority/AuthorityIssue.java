// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.chain.Credential;
import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.IssueDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.KeyTypes;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.write.OutputProtection;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.cli.write.WrittenText;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Renewal;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Signed;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.issue.SigningOrder;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.Certificate;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** {@code symbolon authority issue}. */
final class AuthorityIssue {
  private AuthorityIssue() {}

  static CommandSpec spec() {
    return CommandSpec.of(AuthorityAction.ISSUE)
        .none()
        .value("by", "FOLDER", "The folder of the authority.")
        .flag(
            "self-signed", "Without an authority: a certificate that its own key signs, for a lab.")
        .value(
            "subject",
            "DN",
            "For whom, such as 'UID=L00417,CN=buoy-017,O=Lanternfish Observatory'. Without it the"
                + " first host is the common name. With --list, what all have in common.")
        .value("host", "NAME", "A host that it covers. May be given several times.")
        .value(
            "like",
            "FILE",
            "Issue again what a certificate, keystore or request has, with a new key of the same kind;"
                + " other options replace parts of it. --alias chooses one of several.")
        .value("email", "ADDRESS", "An e-mail address among the subject alternative names.")
        .value("uri", "URI", "A URI among the subject alternative names.")
        .value("for", "USE", "What for: server (default), client (with --list) or both.")
        .value("key-type", "TYPE", "The kind of key: " + KeyTypes.words() + ". ec-p256 by default.")
        .value("lasts", "TIME", "How long it is valid, such as 90d; 397d by default.")
        .value(
            "list-at",
            "URL",
            "Where the revocation list of the authority is published over HTTP; it stands in the"
                + " certificate.")
        .value(
            "list",
            "FILE",
            "Many at once: in each line a name, and behind it a user id if it has one; or a whole"
                + " subject. --into is then a folder, and --seal new=FOLDER/ makes a password for"
                + " each.")
        .writing("ingest.p12")
        .keyWriting()
        .value("alias", "NAME", "The alias in a keystore.")
        .flag("with-root", "Put the root into the chain as well.")
        .value("unlock", "SOURCE", "The password of the authority's key; asked for if not given.")
        .common();
  }

  static int run(Invocation invocation, GivenOptions given) {
    if (given.has("list") && given.has("like")) {
      throw Usage.wrong(
          "--like is for one credential, and --list for many.", "Leave one of them out.");
    }
    if (given.has("list") && !given.has("self-signed")) {
      return IssueMany.run(invocation, IssueManyJob.of(given));
    }
    return run(invocation, IssueJob.of(given));
  }

  private static int run(Invocation invocation, IssueJob job) {
    Destination destination = job.destination();
    destination.checkPrivate(job.result().existing());
    Optional<Renewal> like = DraftOptions.like(invocation, job.like(), job.alias(), job.unlock());
    RequestDraft draft = job.draft().draft(like.map(Renewal::draft));
    KeyKind kind = job.kind().or(() -> like.flatMap(Renewal::kind)).orElse(IssueJob.USUAL_KEY);
    SigningOrder order = new SigningOrder(draft, job.lasts());
    Instant now = invocation.session().clock().instant();
    List<Finding> findings = new ArrayList<>();
    List<Finding> registerFindings = List.of();
    Optional<SigningAuthority> authority = Optional.empty();
    if (job.by().isPresent()) {
      AuthorityFolder folder = invocation.authority(job.by().get());
      authority =
          Optional.of(
              OpenedAuthority.of(invocation, folder, job.unlock()).publishing(job.published()));
      findings.addAll(authority.get().authority().judge(order, now, destination.shown()));
      registerFindings = authority.get().findings();
    } else {
      findings.addAll(draft.check(destination.shown()));
    }
    Optional<Finding> problem =
        findings.stream().filter(f -> f.level() == io.symbolon.finding.Level.PROBLEM).findFirst();
    if (problem.isPresent()) {
      return AuthoritySign.refused(invocation, findings, problem.get());
    }
    OutputProtection guard = OutputProtection.of(invocation, job.result(), destination, true);
    String alias =
        job.alias()
            .or(() -> like.flatMap(Renewal::key).flatMap(match -> match.key().alias()))
            .orElse(DraftOptions.fileName(draft));
    Optional<Signed<Credential>> signed =
        authority.map(signing -> signing.issueUnrecorded(order, kind));
    Credential credential =
        signed.map(Signed::value).orElseGet(() -> order.selfSigned(kind, now, new SecureRandom()));
    // It is recorded when its file is ready, and gets its name then.
    WrittenResult result;
    try {
      result =
          WrittenResult.write(
              invocation,
              destination,
              conversion(destination, job.result(), credential, alias, job.withRoot()),
              job.result().existing(),
              guard,
              List.of(),
              () -> signed.ifPresent(Signed::record));
    } catch (SymbolonException e) {
      throw signed.isPresent()
          ? NotHandedOut.credentials(signed.get(), List.of(credential.certificate()), e)
          : e;
    }
    findings.addAll(registerFindings);
    findings.addAll(result.findings());
    findings.addAll(invocation.notices());
    Report report =
        new Report(credential, authority.map(SigningAuthority::folder), alias, result, findings);
    if (invocation.output().isJson()) {
      invocation.output().json(report.document(invocation.output()));
    } else {
      report.print(invocation.output());
    }
    return Finding.anyProblem(registerFindings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  static Conversion conversion(
      Destination destination,
      ResultOptions result,
      Credential credential,
      String alias,
      boolean withRoot) {
    Credential written = withRoot ? credential : credential.withoutRoot();
    return Conversion.of(
        Bundle.of(List.of(new StoreEntry.KeyEntry(alias, written.key(), written.chain()))),
        destination.target(),
        result.keyForm(),
        destination.shown());
  }

  private record Report(
      Credential credential,
      Optional<AuthorityFolder> folder,
      String alias,
      WrittenResult result,
      List<Finding> findings) {
    void print(Output output) {
      Paint paint = output.paint();
      Certificate certificate = credential.certificate();
      output.line(
          paint.heading(folder.isPresent() ? "Issued " : "Made a self-signed certificate of ")
              + HoldingText.name(certificate.subject())
              + ", until "
              + HoldingText.day(certificate.notAfter()));
      output.line(
          "  subject  " + (certificate.subject().isEmpty() ? "(empty)" : certificate.subject()));
      NamesText.print(output, certificate.alternativeNames());
      output.line(
          "  for      "
              + io.symbolon.issue.Use.of(certificate.extensions()).orElseThrow().title()
              + paint.faint("  no authority"));
      output.line("  key      " + certificate.publicKey().description() + paint.faint("  new"));
      output.line("  serial   " + certificate.serialHex());
      folder.ifPresent(
          from ->
              output.line(
                  "  by       "
                      + HoldingText.name(from.certificate().subject())
                      + paint.faint("  on record in " + Output.shown(from.folder()))));
      WrittenText text = new WrittenText(output, result);
      text.where(
          result.destination().target().isStore()
              ? ", alias '" + HoldingText.plain(alias) + "'"
              : "");
      new FindingsSection(output).print(findings);
    }

    IssueDocument document(Output output) {
      return new IssueDocument(
          "authority issue",
          Optional.empty(),
          Optional.of(
              new IssueDocument.IssuedCredential(
                  result.document(), alias, CertificateDocument.all(credential.chain()))),
          Optional.empty(),
          FindingDocument.all(findings, output.commands()));
    }
  }
}
