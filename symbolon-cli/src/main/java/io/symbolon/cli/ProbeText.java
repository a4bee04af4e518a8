package io.symbolon.cli;

import io.symbolon.Finding;
import io.symbolon.Level;
import io.symbolon.chain.CertificateJudge;
import io.symbolon.tls.ProbeReport;
import io.symbolon.tls.ProbeReport.Check;
import io.symbolon.x509.Certificate;

/** A probe as text for a person. */
final class ProbeText {
  private final Output output;
  private final Paint paint;
  private final ProbeReport report;

  ProbeText(Output output, ProbeReport report) {
    this.output = output;
    this.paint = output.paint();
    this.report = report;
  }

  private static final int AUTHORITIES = 8;

  void print() {
    output.line(
        paint.heading("Probed ") + report.address() + paint.faint(", asked for " + report.host()));
    output.line(
        "  handshake  "
            + (report.isHandshakeDone()
                ? paint.good("done  ")
                    + report.protocol().orElse("")
                    + ", "
                    + report.cipherSuite().orElse("")
                : paint.level(Level.PROBLEM, "failed")));
    if (!report.sent().isEmpty()) {
      Certificate end = report.sent().get(0);
      output.line(
          "  host       "
              + check(report.hostCovered(), "covered", "not covered")
              + paint.faint("  the certificate covers " + CertificateJudge.covered(end)));
      output.line("  trust      " + check(report.trust(), "leads to the trust given", "refused"));
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
    if (!report.sent().isEmpty()) {
      output.line("");
      output.line(paint.heading("Chain as sent"));
      int number = 0;
      for (Certificate certificate : report.sent()) {
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
    if (!report.findings().isEmpty()) {
      output.line("");
      output.line(paint.heading("Findings"));
      FindingsText.print(output, report.findings());
    }
    output.line("");
    output.line(paint.heading("Verdict  ") + verdict());
  }

  private String verdict() {
    if (Finding.anyProblem(report.findings())) {
      return paint.level(
          Level.PROBLEM, "a client that checks what it should will refuse this server");
    }
    return report.trust() == Check.PASSED
        ? paint.good("a client with this trust accepts this server")
        : paint.level(Level.WARNING, "nothing speaks against this server; trust was not checked");
  }

  private String check(Check check, String passed, String failed) {
    return switch (check) {
      case PASSED -> paint.good(passed);
      case FAILED -> paint.level(Level.PROBLEM, failed);
      case NOT_MADE -> paint.level(Level.WARNING, "not checked");
    };
  }
}
