// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.chain.Credential;
import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.IssueDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.KeyTypes;
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
import io.symbolon.file.Existing;
import io.symbolon.finding.Finding;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.issue.SigningOrder;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.remedy.Remedy;
import io.symbolon.x509.Certificate;
import java.security.KeyPair;
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
        .value("email", "ADDRESS", "An e-mail address among the subject alternative names.")
        .value("uri", "URI", "A URI among the subject alternative names.")
        .value("for", "USE", "What for: server (otherwise), client (with --list) or both.")
        .value("key-type", "TYPE", "The kind of key: " + KeyTypes.words() + ". Otherwise ec-p256.")
        .value("lasts", "TIME", "How long it is valid, such as 90d; otherwise 397d.")
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
        .value("unlock", "SOURCE", "The password of the authority's key; asked for otherwise.")
        .common();
  }

  static int run(Invocation invocation) {
    boolean lab = invocation.has("self-signed");
    if (lab && (invocation.has("by") || invocation.has("list"))) {
      throw Invocation.usage(
          "--self-signed is without an authority and for one alone.",
          "Leave out --self-signed, or --by and --list.");
    }
    if (invocation.has("list")) {
      return IssueMany.run(invocation);
    }
    Destination destination = Destination.of(invocation);
    if (destination.folder() || !destination.target().holdsKeys()) {
      throw Invocation.usage(
          destination.shown() + " is no file for a private key and its chain.",
          "Name a keystore or PEM file, such as --into ingest.p12.");
    }
    Existing existing = invocation.has("replace") ? Existing.REPLACE : Existing.KEEP;
    destination.checkPrivate(existing);
    RequestDraft draft = DraftOptions.draft(invocation, Optional.empty());
    KeyKind kind = kind(invocation);
    SigningOrder order = new SigningOrder(draft, lasts(invocation));
    Instant now = invocation.session().clock().instant();
    List<Finding> findings = new ArrayList<>();
    List<Finding> registerFindings = List.of();
    Optional<SigningAuthority> authority = Optional.empty();
    if (lab) {
      findings.addAll(draft.check(destination.shown()));
    } else {
      AuthorityFolder folder = invocation.authority();
      authority = Optional.of(folder.unlock(invocation.keyPasswords(folder), new SecureRandom()));
      findings.addAll(authority.get().authority().judge(order, now, destination.shown()));
      registerFindings = authority.get().findings();
    }
    Optional<Finding> problem =
        findings.stream().filter(f -> f.level() == io.symbolon.finding.Level.PROBLEM).findFirst();
    if (problem.isPresent()) {
      return AuthoritySign.refused(invocation, findings, problem.get());
    }
    OutputProtection guard = OutputProtection.of(invocation, destination, true);
    Credential credential =
        authority
            .map(signing -> signing.issue(order, kind))
            .orElseGet(() -> selfSigned(order, kind, now));
    String alias = invocation.value("alias").orElse(DraftOptions.fileName(draft));
    WrittenResult result;
    try {
      result =
          WrittenResult.write(
              destination,
              conversion(invocation, destination, credential, alias),
              existing,
              guard,
              List.of());
    } catch (SymbolonException e) {
      throw lab ? e : unwritten(e, destination, credential);
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

  static KeyKind kind(Invocation invocation) {
    return invocation.value("key-type").map(KeyTypes::parse).orElse(KeyKind.EC_P256);
  }

  static Lifetime lasts(Invocation invocation) {
    return invocation.value("lasts").map(Lifetime::parse).orElse(Lifetime.days(397));
  }

  private static Credential selfSigned(SigningOrder order, KeyKind kind, Instant now) {
    SecureRandom random = new SecureRandom();
    KeyPair pair = kind.generate(random);
    Certificate certificate =
        order
            .draft()
            .selfSigned(
                pair.getPrivate(),
                SubjectPublicKeyInfo.of(pair.getPublic()),
                now,
                order.lasts().from(now),
                random);
    return Credential.ofPair(pair, List.of(certificate));
  }

  static Conversion conversion(
      Invocation invocation, Destination destination, Credential credential, String alias) {
    List<Certificate> chain = new ArrayList<>(credential.chain());
    if (!invocation.has("with-root") && chain.size() > 1) {
      chain.removeIf(Certificate::isSelfIssued);
    }
    return Conversion.of(
        Bundle.of(List.of(new StoreEntry.KeyEntry(alias, credential.key(), chain))),
        destination.target(),
        invocation.keyForm(),
        destination.shown());
  }

  private static SymbolonException unwritten(
      SymbolonException e, Destination destination, Credential credential) {
    return new SymbolonException(
        e.reason(),
        "The certificate of "
            + HoldingText.name(credential.certificate().subject())
            + " was issued, but "
            + destination.shown()
            + " was not written: its key is lost.",
        e.seen(),
        new Remedy(
            e.remedy().advice()
                + " Revoke "
                + credential.certificate().serialHex()
                + ", and issue another.",
            e.remedy().actions()),
        e);
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
      NamesText.print(output, certificate.hosts());
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
