// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.AuthorityDocument;
import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Ledger;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** {@code symbolon authority list FOLDER}. */
final class AuthorityList {
  private static final int SHOWN = 200;
  private static final int DOCUMENT = 50_000; // certificates in one JSON document
  private static final int SERIAL = 16; // digits of the serial number: enough to name one by
  private static final int NAME = 34;

  private AuthorityList() {}

  static CommandSpec spec() {
    return CommandSpec.of(AuthorityAction.LIST)
        .one("FOLDER", "The folder of the authority.")
        .flag("all", "Show every certificate, and not only the last " + SHOWN + ".")
        .value(
            "page",
            "N",
            "Show the N-th page of "
                + SHOWN
                + " certificates; the first has the last ones. Without it, JSON has all of them.")
        .common();
  }

  static int run(Invocation invocation, GivenOptions given) {
    Optional<Integer> page = given.value("page").map(AuthorityList::page);
    if (page.isPresent() && given.has("all")) {
      throw Usage.wrong("--all shows every page, and --page one.", "Leave one of them out.");
    }
    AuthorityFolder folder = invocation.task().authority(GivenOptions.path(given.argument()));
    Ledger ledger = folder.reconcile();
    Instant now = invocation.session().clock().instant();
    Output output = invocation.output();
    if (output.isJson()) {
      Part part = page.isPresent() ? Part.of(ledger, page.get()) : Part.all(ledger);
      if (part.certificates().size() > DOCUMENT) {
        throw tooMany(part);
      }
      output.json(document(folder, ledger, part, now, output));
    } else {
      Part part = given.has("all") ? Part.all(ledger) : Part.of(ledger, page.orElse(1));
      print(output, folder, ledger, part, now);
    }
    return Finding.anyProblem(ledger.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  /** What of all certificates is shown, and how many there are before and behind it. */
  private record Part(List<Certificate> certificates, int earlier, int later, int page) {
    static Part all(Ledger ledger) {
      return new Part(ledger.issued(), 0, 0, 1);
    }

    static Part of(Ledger ledger, int page) {
      int size = ledger.issued().size();
      int pages = Math.max(1, (size + SHOWN - 1) / SHOWN);
      if (page > pages) {
        throw Usage.wrong(
            "There is no page " + page + ".", "The last one is --page " + pages + ".");
      }
      int end = (int) Math.max(0, size - (page - 1L) * SHOWN);
      int start = Math.max(0, end - SHOWN);
      return new Part(ledger.issued().subList(start, end), start, size - end, page);
    }
  }

  private static String number(int many) {
    return String.format(Locale.ROOT, "%,d", many);
  }

  private static int page(String text) {
    if (!text.matches("[1-9][0-9]{0,8}")) {
      throw Usage.wrong("--page is not a number.", "Say --page 1 for the last certificates.");
    }
    return Integer.parseInt(text);
  }

  private static SymbolonException tooMany(Part part) {
    return new SymbolonException(
        Reason.LIMIT_PASSED,
        "The list was not written.",
        "It has "
            + part.certificates().size()
            + " certificates, and a document may have "
            + DOCUMENT
            + ".",
        "Read it in pages of " + SHOWN + ": --page 1, --page 2 and so on.");
  }

  private static void print(
      Output output, AuthorityFolder folder, Ledger ledger, Part part, Instant now) {
    Paint paint = output.paint();
    Certificate own = folder.certificate();
    output.line(
        paint.heading(HoldingText.name(own.subject()))
            + " ("
            + HoldingText.role(own)
            + ")"
            + paint.faint(
                "  valid until "
                    + HoldingText.day(own.notAfter())
                    + ", "
                    + HoldingText.count(ledger.issued().size(), "certificate")
                    + " issued, "
                    + ledger.revoked().size()
                    + " revoked"));
    List<Certificate> issued = part.certificates();
    if (part.earlier() > 0) {
      output.line(
          paint.faint(
              "  "
                  + number(part.earlier())
                  + " earlier ones; --page "
                  + (part.page() + 1)
                  + " shows the last of them, --all shows all"));
    }
    if (!issued.isEmpty()) {
      output.line(
          paint.faint(
              "  "
                  + HoldingText.padded("serial", SERIAL + 2)
                  + HoldingText.padded("name", NAME + 2)
                  + HoldingText.padded("for", 15)
                  + HoldingText.padded("until", 12)
                  + "standing"));
    }
    for (Certificate certificate : issued) {
      String serial = certificate.serialHex();
      output.line(
          "  "
              + HoldingText.padded(
                  serial.substring(0, Math.min(SERIAL, serial.length())), SERIAL + 2)
              + HoldingText.padded(cut(name(certificate)), NAME + 2)
              + HoldingText.padded(use(certificate), 15)
              + HoldingText.padded(HoldingText.day(certificate.notAfter()).toString(), 12)
              + standing(paint, ledger, certificate, now));
    }
    if (part.later() > 0) {
      output.line(
          paint.faint(
              "  "
                  + number(part.later())
                  + " later ones; --page "
                  + (part.page() - 1)
                  + " shows them"));
    }
    ledger
        .list()
        .ifPresent(
            list ->
                output.line(
                    paint.faint(
                        "  revocation list of "
                            + HoldingText.day(list.thisUpdate())
                            + ", to be relied on until "
                            + list.nextUpdate()
                                .map(HoldingText::day)
                                .map(Object::toString)
                                .orElse("?")
                            + "  "
                            + Output.shown(folder.folder().resolve(AuthorityFolder.REVOCATIONS)))));
    new FindingsSection(output).print(ledger.findings());
  }

  /** The name with the user id that a server looks for, or the host of one without a subject. */
  private static String name(Certificate certificate) {
    String name = HoldingText.name(certificate.subject());
    if (certificate.subject().isEmpty() && !certificate.alternativeNames().isEmpty()) {
      return HoldingText.plain(certificate.alternativeNames().get(0).value());
    }
    return certificate
        .subject()
        .last(Oids.UID)
        .map(HoldingText::plain)
        .filter(id -> !id.equals(name))
        .map(id -> name + " (" + id + ")")
        .orElse(name);
  }

  private static String cut(String name) {
    return name.length() <= NAME ? name : name.substring(0, NAME - 3) + "...";
  }

  private static String use(Certificate certificate) {
    return certificate.isAuthority()
        ? "authority"
        : Use.of(certificate.extensions())
            .map(use -> use == Use.BOTH ? "server, client" : use.word())
            .orElse("-");
  }

  private static String standing(Paint paint, Ledger ledger, Certificate certificate, Instant now) {
    return switch (ledger.standing(certificate, now)) {
      case VALID -> paint.good("valid");
      case EXPIRED -> paint.faint("expired");
      case REVOKED -> {
        Authority.Revocation revoked = ledger.revoked().get(certificate.serial());
        yield paint.level(io.symbolon.finding.Level.PROBLEM, "revoked")
            + (revoked == null
                ? ""
                : paint.faint(
                    "  " + HoldingText.day(revoked.when()) + ", " + revoked.reason().word()));
      }
    };
  }

  private static AuthorityDocument document(
      AuthorityFolder folder, Ledger ledger, Part part, Instant now, Output output) {
    return new AuthorityDocument(
        "authority list",
        new AuthorityDocument.DescribedAuthority(
            folder.folder().toString(),
            CertificateDocument.all(folder.chain()),
            folder.certificates().map(Path::toString),
            Optional.of(
                part.certificates().stream()
                    .map(
                        certificate -> {
                          Optional<Authority.Revocation> revoked =
                              Optional.ofNullable(ledger.revoked().get(certificate.serial()));
                          return AuthorityDocument.IssuedCertificate.of(
                              CertificateDocument.of(certificate),
                              ledger.standing(certificate, now),
                              revoked.map(one -> one.when().toString()),
                              revoked.map(one -> one.reason().word()));
                        })
                    .toList())),
        FindingDocument.all(ledger.findings(), output.commands()));
  }
}
