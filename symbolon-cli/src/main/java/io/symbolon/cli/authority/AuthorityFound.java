// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.AuthorityDocument;
import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.KeyTypes;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.key.KeyKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import io.symbolon.task.authority.FoundJob;
import io.symbolon.task.authority.FoundReport;
import io.symbolon.x509.BasicConstraints;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.NameConstraints;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;

/** {@code symbolon authority found FOLDER}. */
final class AuthorityFound {
  private AuthorityFound() {}

  static CommandSpec spec() {
    return CommandSpec.of(AuthorityAction.FOUND)
        .one("FOLDER", "The folder that is made for the authority; it must not be there yet.")
        .value(
            "subject", "DN", "Its name, such as 'CN=Lanternfish Root,O=Lanternfish Observatory'.")
        .value("under", "FOLDER", "The authority that signs it; without this it is a root.")
        .value(
            "key-type",
            "TYPE",
            "The kind of its key: " + KeyTypes.words() + ". ec-p384 by default.")
        .value(
            "lasts",
            "TIME",
            "How long it is valid: 10y for a root, 5y for an intermediate, by default. It"
                + " never outlives the authority above it.")
        .value(
            "path-length",
            "NUMBER",
            "How many intermediates may follow below it: any number below a root, none below an"
                + " intermediate, by default.")
        .value(
            "permit",
            "HOSTS",
            "Hosts it may sign for, all others being refused: a domain with all below it, or a"
                + " network such as 192.0.2.0/24. May be given several times.")
        .value("exclude", "HOSTS", "Hosts it must not sign for. May be given several times.")
        .value(
            "seal",
            "SOURCE",
            "The password for its key: ask, env=NAME, file=PATH (first line), or new=PATH to make a"
                + " strong one and save it there for its owner only.")
        .newPassword()
        .value("unlock", "SOURCE", "The password of the key of the authority above it.")
        .common();
  }

  static int run(Invocation invocation, GivenOptions given) {
    FoundReport report = job(given).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(report, output));
    } else {
      print(output, report);
    }
    return ExitCode.DONE;
  }

  private static FoundJob job(GivenOptions given) {
    DistinguishedName subject =
        given
            .subject()
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "The authority has no name.",
                        "Give it with --subject 'CN=Lanternfish Root,O=Lanternfish Observatory'."));
    Optional<Path> under = given.pathOf("under");
    boolean root = under.isEmpty();
    AuthorityPlan plan =
        new AuthorityPlan(
            subject,
            given.keyKind().orElse(KeyKind.EC_P384),
            given.lasts().orElse(Lifetime.years(root ? 10 : 5)),
            pathLength(given, root),
            constraints(given));
    return new FoundJob(
        GivenOptions.path(given.argument()), plan, under, given.unlock(), ResultChoice.of(given));
  }

  private static OptionalInt pathLength(GivenOptions given, boolean root) {
    Optional<String> said = given.value("path-length");
    if (said.isEmpty()) {
      return root ? OptionalInt.empty() : OptionalInt.of(0);
    }
    if (!said.get().matches("[0-9]{1,2}")) {
      throw Usage.wrong(
          "'" + Output.shown(said.get()) + "' is not a path length.", "Say a number from 0 to 99.");
    }
    return OptionalInt.of(Integer.parseInt(said.get()));
  }

  private static NameConstraints constraints(GivenOptions given) {
    return NameConstraints.ofHosts(areas(given, "permit"), areas(given, "exclude"));
  }

  private static List<NameConstraints.Area> areas(GivenOptions given, String option) {
    return given.values(option).stream().map(NameConstraints.Area::parse).toList();
  }

  private static void print(Output output, FoundReport report) {
    AuthorityFolder folder = report.folder();
    Paint paint = output.paint();
    Certificate certificate = folder.certificate();
    output.line(
        paint.heading("Founded ")
            + HoldingText.name(certificate.subject())
            + " ("
            + HoldingText.role(certificate)
            + ")");
    output.line("  subject  " + certificate.subject());
    if (folder.chain().size() > 1) {
      output.line("  below    " + HoldingText.name(certificate.issuer()));
    }
    output.line(
        "  valid    until "
            + HoldingText.day(certificate.notAfter())
            + paint.faint("  from " + certificate.notBefore() + " on"));
    OptionalInt length =
        certificate
            .extensions()
            .basicConstraints()
            .map(BasicConstraints::pathLength)
            .orElse(OptionalInt.empty());
    output.line(
        "  may sign "
            + (length.isEmpty()
                ? "end-entity certificates, and intermediates"
                : length.getAsInt() == 0
                    ? "end-entity certificates, no intermediates"
                    : "end-entity certificates, and "
                        + HoldingText.count(length.getAsInt(), "level")
                        + " of intermediates"));
    certificate
        .extensions()
        .nameConstraints()
        .ifPresent(constraints -> constraints(output, constraints));
    output.line("  key      " + certificate.publicKey().description());
    String where = Output.shown(folder.folder()) + "/";
    output.line(
        "  into     "
            + where
            + paint.faint("  readable by its owner only; its list of revocations is empty"));
    output.line("             " + AuthorityFolder.CERTIFICATE + paint.faint("  for truststores"));
    output.line("             " + AuthorityFolder.KEY + paint.faint("  its key"));
    output.line("  sealed   with " + report.seal().description());
    new FindingsSection(output).print(report.findings());
    output.line("");
    output.line(paint.heading("Next"));
    Action issue =
        Action.of(Task.ISSUE)
            .with(Input.AUTHORITY, folder.folder().toString())
            .with(Input.PASSWORD, report.seal().source())
            .with(Input.HOST)
            .with(Input.INTO)
            .with(Input.NEW_PASSWORD_FILE);
    output.pasted("  " + output.commands().form(issue));
    output.line("      " + paint.faint("makes key, certificate and keystore of a server"));
  }

  private static void constraints(Output output, NameConstraints constraints) {
    if (!constraints.permitted().isEmpty()) {
      output.line("  for      " + joined(constraints.permitted()) + " alone");
    }
    if (!constraints.excluded().isEmpty()) {
      output.line("  not for  " + joined(constraints.excluded()));
    }
  }

  private static String joined(List<NameConstraints.Area> areas) {
    return areas.stream().map(area -> Output.shown(area.text())).collect(Collectors.joining(", "));
  }

  private static AuthorityDocument document(FoundReport report, Output output) {
    AuthorityFolder folder = report.folder();
    return new AuthorityDocument(
        "authority found",
        new AuthorityDocument.DescribedAuthority(
            folder.folder().toString(),
            CertificateDocument.all(folder.chain()),
            Optional.empty(),
            Optional.empty()),
        FindingDocument.all(report.findings(), output.commands()));
  }
}
