// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.party.CipherSuite;
import io.symbolon.probe.AddressSeen;
import io.symbolon.probe.ProbeReport;
import io.symbolon.probe.ProbeReport.Check;
import io.symbolon.probe.Stapled;
import io.symbolon.probe.VersionTaken;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** A probe as text for a person. */
final class ProbeText {
  private final Output output;
  private final Paint paint;
  private final ProbeReport report;
  private final List<Finding> findings;
  private final Optional<Path> saved;
  private final boolean details;

  ProbeText(
      Output output,
      ProbeReport report,
      List<Finding> findings,
      Optional<Path> saved,
      boolean details) {
    this.details = details;
    this.output = output;
    this.paint = output.paint();
    this.report = report;
    this.findings = findings;
    this.saved = saved;
  }

  private static final int AUTHORITIES = 8;
  private static final int SUITES = 3;

  void print() {
    output.line(
        paint.heading("Probed ") + report.address() + paint.faint(", asked for " + report.host()));
    output.line(
        "  handshake  "
            + (report.isHandshakeDone()
                ? paint.good("done  ")
                    + report.protocol().orElse("").replace("TLSv", "TLS ")
                    + ", "
                    + report.cipherSuite().orElse("")
                : paint.level(Level.PROBLEM, "failed")));
    if (!report.sent().isEmpty()) {
      Certificate end = report.sent().get(0);
      output.line(
          "  host       "
              + check(report.hostCovered(), "covered", "not covered")
              + paint.faint("  the certificate covers " + CertificateJudge.covered(end)));
      if (report.stapled().isPresent()) {
        output.line("  status     " + stapled(report.stapled().get()));
      }
      output.line("  trust      " + check(report.trust(), "leads to the trust given", "refused"));
    }
    if (report.addresses().size() > 1) {
      for (AddressSeen address : report.addresses()) {
        output.line(
            "  address    "
                + address.ip()
                + (address.answers()
                    ? address.shown().isPresent()
                        ? paint.faint("  shows " + address.shown().get().sha256())
                        : paint.level(Level.WARNING, "  shows no certificate")
                    : paint.level(Level.WARNING, "  nobody answers")));
      }
    }
    if (report.isHandshakeDone()) {
      output.line(
          "  client     "
              + (report.clientCertificateAsked()
                  ? "a certificate is asked for (mutual TLS)"
                  : "no certificate is asked for (one-way TLS)"));
      int shown = Math.min(AUTHORITIES, report.authoritiesNamed().size());
      for (String authority : report.authoritiesNamed().subList(0, shown)) {
        output.line(paint.faint("             of " + Output.shown(authority)));
      }
      if (shown < report.authoritiesNamed().size()) {
        output.line(
            paint.faint(
                "             and " + (report.authoritiesNamed().size() - shown) + " more"));
      }
    }
    chain("Chain as sent", report.sent());
    chain("Chain as sent to clients that can't use the first one", report.otherSent());
    versions();
    if (!findings.isEmpty()) {
      output.line("");
      output.line(paint.heading("Findings"));
      FindingsText.print(output, findings);
    }
    if (saved.isPresent() && !report.sent().isEmpty()) {
      output.line("");
      output.line(
          paint.heading("Saved    ")
              + Output.shown(saved.get())
              + paint.faint(
                  "  " + HoldingText.count(report.sent().size(), "certificate") + ", as sent"));
    }
    output.line("");
    output.line(paint.heading("Verdict  ") + verdict());
  }

  private void chain(String title, List<Certificate> sent) {
    if (sent.isEmpty()) {
      return;
    }
    output.line("");
    output.line(paint.heading(title));
    int number = 0;
    for (Certificate certificate : sent) {
      output.line(
          "  "
              + ++number
              + "  "
              + HoldingText.name(certificate.subject())
              + " ("
              + HoldingText.role(certificate)
              + "), "
              + certificate.publicKey().description());
      output.line(
          paint.faint(
              "     issued by "
                  + HoldingText.name(certificate.issuer())
                  + ", valid from "
                  + HoldingText.day(certificate.notBefore())
                  + " until "
                  + HoldingText.day(certificate.notAfter())));
      output.line(paint.faint("     SHA-256 " + certificate.sha256()));
    }
  }

  /** A version in a line, and below it what it comes with. */
  private void versions() {
    if (report.versions().isEmpty()) {
      return;
    }
    output.line("");
    output.line(paint.heading("Protocol versions"));
    for (VersionTaken version : report.versions()) {
      String title = "  " + version.version().title() + "  ";
      switch (version.answer()) {
        case TAKEN -> {
          String words =
              "taken, "
                  + HoldingText.count(version.suites().size(), "cipher suite")
                  + (version.suites().size() < 2
                      ? ""
                      : version.ownOrder() ? ", the server chooses" : ", the client chooses");
          output.line(
              title
                  + (version.version().isCurrent()
                      ? paint.good(words)
                      : paint.level(Level.WARNING, words)));
          suites(version);
        }
        case REFUSED -> output.line(title + paint.faint("not taken; " + version.seen()));
        case NOT_MADE ->
            output.line(title + paint.level(Level.WARNING, "not found out; " + version.seen()));
      }
    }
  }

  private void suites(VersionTaken version) {
    Optional<VersionTaken> same =
        report.versions().stream()
            .filter(one -> one.suites().equals(version.suites()))
            .findFirst()
            .filter(one -> one.version() != version.version());
    if (same.isPresent()) {
      output.line(paint.faint("           the same as in " + same.get().version().title()));
      return;
    }
    int left = 0;
    int leftWithout = 0;
    int shown = 0;
    for (CipherSuite suite : version.suites()) {
      boolean marked = suite.isBroken() || suite.isOld();
      if (details || version.suites().size() <= SUITES + 1 || shown < SUITES || marked) {
        suite(suite);
        shown++;
      } else {
        left++;
        leftWithout += suite.hasForwardSecrecy() ? 0 : 1;
      }
    }
    if (left > 0) {
      output.line(
          paint.faint(
              "           and "
                  + left
                  + " more"
                  + (leftWithout > 0 ? ", " + leftWithout + " without forward secrecy" : "")
                  + "; --details shows them"));
    }
  }

  private void suite(CipherSuite suite) {
    String name = "           " + suite.name();
    output.line(
        suite.isBroken()
            ? paint.level(Level.PROBLEM, name + "  protects nothing")
            : suite.isOld()
                ? paint.level(Level.WARNING, name + "  old")
                : paint.faint(name + (suite.hasForwardSecrecy() ? "" : "  no forward secrecy")));
  }

  private String verdict() {
    boolean byServer =
        findings.stream()
            .anyMatch(
                finding ->
                    finding.is(FindingKind.CLIENT_CERTIFICATE_REQUIRED)
                        || finding.is(FindingKind.CLIENT_CERTIFICATE_REFUSED)
                        || finding.is(FindingKind.CLIENT_AUTHORITY_NOT_NAMED));
    if (byServer) {
      return paint.level(Level.PROBLEM, "the server refuses a client like this one; see above why");
    }
    if (!report.isHandshakeDone()) {
      return paint.level(Level.PROBLEM, "no handshake came about; see above why");
    }
    if (report.isRefused()) {
      return paint.level(
          Level.PROBLEM, "a client that checks what it should will refuse this server");
    }
    if (Finding.anyProblem(findings)) {
      return paint.level(
          Level.WARNING,
          report.trust() == Check.PASSED
              ? "a client with this trust accepts this server, which has the problems above"
              : "clients may accept this server, which has the problems above; trust was not"
                  + " checked");
    }
    return report.trust() == Check.PASSED
        ? paint.good("a client with this trust accepts this server")
        : paint.level(Level.WARNING, "nothing speaks against this server; trust was not checked");
  }

  private String stapled(Stapled stapled) {
    if (stapled.status().isEmpty()) {
      return paint.level(Level.WARNING, "one is sent along that says nothing");
    }
    String until = stapled.nextUpdate().map(at -> ", until " + HoldingText.day(at)).orElse("");
    return switch (stapled.status().get()) {
      case GOOD -> paint.good("not revoked") + paint.faint(", as the server sends along" + until);
      case REVOKED -> paint.level(Level.PROBLEM, "revoked, as the server itself sends along");
      case UNKNOWN -> paint.level(Level.PROBLEM, "unknown to the responder");
    };
  }

  private String check(Check check, String passed, String failed) {
    return switch (check) {
      case PASSED -> paint.good(passed);
      case FAILED -> paint.level(Level.PROBLEM, failed);
      case NOT_MADE -> paint.level(Level.WARNING, "not checked");
    };
  }
}
