// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.configure.PlaceReport;
import io.symbolon.configure.ServerReport;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.server.place.Aspect;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** Servers' settings as they are, for a person. */
final class ServersText {
  private static final int LABEL = 11;
  private static final String NOT_UNDERSTOOD = "not understood; see what is said below";
  private static final int AUTHORITIES = 4;

  private final Output output;
  private final Paint paint;

  ServersText(Output output) {
    this.output = output;
    this.paint = output.paint();
  }

  /** A few lines for each server of the machine. */
  void overview(List<ServerReport> reports, List<Finding> failures) {
    if (reports.isEmpty() && failures.isEmpty()) {
      output.line("No server that Symbolon knows is in the usual places of this machine.");
      output.wrapped("", "Name one with its settings: symbolon configure SERVER --home PATH.");
      return;
    }
    for (ServerReport report : reports) {
      output.line(
          paint.heading(report.title())
              + paint.faint("  " + Output.shown(report.installation().main())));
      for (PlaceReport place : report.places()) {
        output.line("  " + brief(place));
      }
      if (report.places().isEmpty()) {
        output.line("  " + paint.faint("no place that speaks TLS"));
      }
      List<Finding> findings = report.allFindings();
      output.line("  " + summary(findings));
      output.line("");
    }
    if (!reports.isEmpty()) {
      output.line("One server with all that is to be said of it:");
      for (ServerReport report : reports) {
        output.pasted("  " + paint.command("symbolon configure " + report.installation().server()));
      }
    }
    new FindingsSection(output).print(failures);
  }

  private String summary(List<Finding> findings) {
    Level worst =
        findings.stream()
            .map(Finding::level)
            .min(java.util.Comparator.naturalOrder())
            .orElse(Level.NOTE);
    return paint.level(worst, FindingsText.summary(findings));
  }

  private String brief(PlaceReport report) {
    TlsPlace place = report.place();
    String until =
        report.credentials().stream()
            .map(one -> one.certificate().notAfter())
            .min(java.util.Comparator.naturalOrder())
            .map(end -> ", until " + HoldingText.day(end))
            .orElse("");
    return HoldingText.padded(addresses(place), 20)
        + " "
        + HoldingText.padded(mode(place), 8)
        + " "
        + Output.shown(place.name())
        + until;
  }

  private static String addresses(TlsPlace place) {
    return place.endpoints().stream().map(Endpoint::written).collect(Collectors.joining(", "));
  }

  private static String mode(TlsPlace place) {
    if (!place.isKnown(Aspect.MODE)) {
      return "unknown";
    }
    return place.mode() == Mode.CLEAR ? "clear" : place.mode().word();
  }

  /** One server, whole. */
  void one(ServerReport report, List<Finding> notices) {
    output.line(
        paint.heading(report.title())
            + paint.faint(
                "  "
                    + Output.shown(report.installation().main())
                    + ", "
                    + HoldingText.count(report.files().size(), "settings file")));
    for (PlaceReport place : report.places()) {
      output.line("");
      place(place);
    }
    if (report.places().isEmpty()) {
      output.line("  " + paint.faint("It has no place that speaks TLS."));
    }
    List<Finding> all = new ArrayList<>(report.allFindings());
    all.addAll(notices);
    new FindingsSection(output).print(all);
  }

  /** A place, with what its files hold. */
  void place(PlaceReport report) {
    TlsPlace place = report.place();
    output.line(
        paint.heading(Output.shown(place.name()))
            + "  "
            + place.kind()
            + paint.faint("  " + place.origin()));
    row(
        "listens",
        !place.isKnown(Aspect.ADDRESSES)
            ? NOT_UNDERSTOOD
            : addresses(place).isEmpty() ? "nowhere" : addresses(place));
    row("mode", describedMode(place));
    if (!place.isKnown(Aspect.CERTIFICATE)) {
      row("shows", NOT_UNDERSTOOD);
    }
    for (io.symbolon.chain.Credential credential : report.credentials()) {
      String label = "shows";
      for (Certificate certificate : credential.chain()) {
        row(
            label,
            HoldingText.name(certificate.subject())
                + " ("
                + HoldingText.role(certificate)
                + "), until "
                + HoldingText.day(certificate.notAfter()));
        label = "";
      }
    }
    if (!report.trust().isEmpty()) {
      List<Certificate> trust = report.trust();
      row(
          "trusts",
          trust.stream()
                  .limit(AUTHORITIES)
                  .map(one -> HoldingText.name(one.subject()))
                  .collect(Collectors.joining(", "))
              + (trust.size() > AUTHORITIES
                  ? " and " + (trust.size() - AUTHORITIES) + " more"
                  : ""));
    }
    files(place);
    if (!place.isTls()) {
      return;
    }
    place.protocols().ifPresent(words -> row("versions", Output.shown(words)));
    place.ciphers().ifPresent(words -> row("ciphers", Output.shown(words)));
  }

  private void files(TlsPlace place) {
    Set<Path> done = new LinkedHashSet<>();
    for (UsedFile file : place.files()) {
      if (done.add(file.path())) {
        String entry = file.alias().map(alias -> ", entry " + Output.shown(alias)).orElse("");
        row(
            done.size() == 1 ? "files" : "",
            Output.shown(file.path()) + paint.faint("  " + file.role().title() + entry));
      }
    }
  }

  private static String describedMode(TlsPlace place) {
    if (!place.isKnown(Aspect.MODE)) {
      return NOT_UNDERSTOOD;
    }
    return switch (place.mode()) {
      case CLEAR -> "clear text";
      case PASSED_ON -> "passed on: TLS ends at what is behind it";
      case REJECTING -> "rejecting: every TLS handshake is refused";
      case ONE_WAY -> "one-way: the server shows its certificate";
      case OPTIONAL -> "optional: clients without a certificate get in";
      case MUTUAL -> "mutual: every client must show a certificate";
    };
  }

  private void row(String label, String text) {
    output.line("  " + HoldingText.padded(label, LABEL) + text);
  }
}
