// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.IssueDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.DraftChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.KeyTypes;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.output.WrittenText;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.issue.Published;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.task.authority.IssueJob;
import io.symbolon.task.authority.IssueReport;
import io.symbolon.task.result.Destination;
import io.symbolon.x509.Certificate;
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
      return IssuedMany.run(invocation, given);
    }
    IssueReport report = job(given).run(invocation.task());
    Output output = invocation.output();
    if (report.refusal().isPresent()) {
      return AuthoritySign.refused(invocation, report.findings(), report.refusal().get());
    }
    if (output.isJson()) {
      output.json(document(report, output));
    } else {
      print(output, report);
    }
    return report.registerDamaged() ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static IssueJob job(GivenOptions given) {
    boolean lab = given.has("self-signed");
    if (lab && (given.has("by") || given.has("list"))) {
      throw Usage.wrong(
          "--self-signed is without an authority and for one alone.",
          "Leave out --self-signed, or --by and --list.");
    }
    if (lab && given.has("list-at")) {
      throw Usage.wrong(
          "--self-signed has no authority, and --list-at is for one's list.",
          "Leave one of them out.");
    }
    Destination destination = DestinationChoice.of(given);
    return new IssueJob(
        lab ? Optional.empty() : Optional.of(given.by()),
        DraftChoice.of(given),
        given.pathOf("like"),
        given.lasts().orElse(IssueJob.USUAL),
        given.keyKind(),
        destination,
        given.value("alias"),
        given.has("with-root"),
        given.unlock(),
        ResultChoice.of(given),
        published(given));
  }

  /** Where the authority publishes its list. */
  static Published published(GivenOptions given) {
    return new Published(
        given.value("list-at").map(Published::address), Optional.empty(), Optional.empty());
  }

  private static void print(Output output, IssueReport report) {
    IssueReport.Issued issued = report.issued().orElseThrow();
    Optional<AuthorityFolder> folder = issued.folder();
    Paint paint = output.paint();
    Certificate certificate = issued.credential().certificate();
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
    WrittenText text = new WrittenText(output, issued.result());
    text.where(
        issued.result().destination().target().isStore()
            ? ", alias '" + HoldingText.plain(issued.alias()) + "'"
            : "");
    new FindingsSection(output).print(report.findings());
  }

  private static IssueDocument document(IssueReport report, Output output) {
    IssueReport.Issued issued = report.issued().orElseThrow();
    return new IssueDocument(
        "authority issue",
        Optional.empty(),
        Optional.of(
            new IssueDocument.IssuedCredential(
                WrittenDocument.of(issued.result()),
                issued.alias(),
                CertificateDocument.all(issued.credential().chain()))),
        Optional.empty(),
        FindingDocument.all(report.findings(), output.commands()));
  }
}
