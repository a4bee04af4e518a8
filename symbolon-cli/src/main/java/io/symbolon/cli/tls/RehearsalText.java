// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.OptionNames;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.party.Party;
import io.symbolon.rehearse.OtherServer;
import io.symbolon.rehearse.RehearsalReport;
import io.symbolon.rehearse.RehearsedPairs;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** What came of rehearsals, for a person or as JSON. */
final class RehearsalText {
  private static final int NAME = 28;
  private static final int COLUMNS = 12;
  private static final int ROWS = 40;

  private final Output output;
  private final Paint paint;
  private final RehearsedPairs pairs;
  private final String host;

  RehearsalText(Output output, RehearsedPairs pairs, String host) {
    this.output = output;
    this.paint = output.paint();
    this.pairs = pairs;
    this.host = host;
  }

  /** One server with one client. */
  void one() {
    RehearsalReport report = pairs.report(0, 0);
    output.line(
        paint.heading("Rehearsed ")
            + report.server()
            + " with "
            + report.client()
            + (host.isEmpty() ? "" : ", asked for " + Output.shown(host)));
    side("server", pairs.servers().get(0));
    side("client", pairs.clients().get(0));
    for (RehearsalReport.Try one : report.tries()) {
      output.line(
          "  "
              + HoldingText.padded(one.protocol().title(), 9)
              + (one.isAccepted()
                  ? paint.good("accepted") + paint.faint("  " + one.cipherSuite().orElse(""))
                  : paint.level(
                      Level.PROBLEM,
                      one.refusedBy()
                          .map(side -> "refused by " + side.title())
                          .orElse("not tried"))));
      if (!one.isAccepted()) {
        output.wrapped("           ", "Java says: " + one.raw());
      }
    }
    output.line("");
    others(report);
    output.line(paint.heading("Verdict  ") + verdict(report));
    List<Finding> all = new ArrayList<>(pairs.findings());
    all.addAll(report.findings());
    new FindingsSection(output).print(all);
  }

  /** Who else accepts and who refuses, of the servers that do not judge as Java does. */
  private void others(RehearsalReport report) {
    boolean byJava = report.verdict() != RehearsalReport.Verdict.REFUSED;
    if (report.others().stream().allMatch(other -> other.accepts() == byJava)) {
      return; // all do as Java does
    }
    output.line(paint.heading("Other servers") + paint.faint("  with the same files"));
    Map<String, List<OtherServer>> told = new LinkedHashMap<>();
    for (OtherServer one : report.others()) {
      String does = one.why().orElse("accepted");
      told.computeIfAbsent(does, key -> new ArrayList<>()).add(one);
    }
    told.forEach(
        (does, servers) -> {
          String names =
              servers.stream()
                  .map(
                      one ->
                          one.kind().title()
                              + one.setting().map(setting -> " (" + setting + ")").orElse(""))
                  .collect(Collectors.joining(", "));
          output.wrapped("  ", names + ": " + does);
        });
    output.line("");
  }

  private String verdict(RehearsalReport report) {
    return switch (report.verdict()) {
      case ACCEPTED ->
          pairs.isAccepted()
              ? paint.good("they accept each other")
              : paint.level(Level.PROBLEM, "they accept each other, but for the problems below");
      case ACCEPTED_BY_JAVA_ALONE ->
          paint.level(
              Level.PROBLEM,
              "Java accepts; other clients or servers will refuse, for the problems below");
      case ACCEPTED_IN_PART ->
          paint.level(Level.WARNING, "they accept each other in one version only");
      case REFUSED -> paint.level(Level.PROBLEM, refusal(report));
    };
  }

  private static String refusal(RehearsalReport report) {
    Set<Side> refusing =
        report.tries().stream()
            .flatMap(one -> one.refusedBy().stream())
            .collect(Collectors.toSet());
    return refusing.size() == 1
        ? refusing.stream()
            .map(side -> side.title() + " refuses " + side.other().title())
            .findFirst()
            .orElseThrow()
        : "they refuse each other";
  }

  private void side(String title, Party party) {
    String lead = "  " + HoldingText.padded(title, 9);
    if (party.chain().isEmpty()) {
      output.line(lead + "shows no certificate");
      lead = "           ";
    }
    for (Certificate certificate : party.chain()) {
      output.line(
          lead
              + HoldingText.name(certificate.subject())
              + " ("
              + HoldingText.role(certificate)
              + "), until "
              + HoldingText.day(certificate.notAfter()));
      lead = "           ";
    }
    output.line(
        lead
            + paint.faint(
                party
                    .trust()
                    .map(
                        trust ->
                            "trusts "
                                + (trust.isEmpty()
                                    ? "nobody"
                                    : trust.stream()
                                            .limit(4)
                                            .map(one -> HoldingText.name(one.subject()))
                                            .collect(Collectors.joining(", "))
                                        + (trust.size() > 4
                                            ? " and " + (trust.size() - 4) + " more"
                                            : "")))
                    .orElse(
                        title.equals("server")
                            ? "asks for no client's certificate"
                            : "lets every server pass: its trust is not known")));
  }

  /** Every server with every client: a table, and what its letters mean. */
  void matrix() {
    List<Party> servers = pairs.servers();
    List<Party> clients = pairs.clients();
    output.line(
        paint.heading("Rehearsed ")
            + HoldingText.count(servers.size(), "server")
            + " with "
            + HoldingText.count(clients.size(), "client")
            + paint.faint(
                "  "
                    + pairs.accepted()
                    + " of "
                    + pairs.reports().size()
                    + " pairs accept each other"));
    Map<String, String> letters = new LinkedHashMap<>();
    Map<String, Finding> meanings = new LinkedHashMap<>();
    StringBuilder head = new StringBuilder("  " + " ".repeat(NAME));
    int columns = Math.min(COLUMNS, clients.size());
    for (int c = 0; c < columns; c++) {
      head.append(HoldingText.padded("  " + (c + 1), 6));
    }
    output.line(head.toString());
    for (int s = 0; s < Math.min(ROWS, servers.size()); s++) {
      StringBuilder row =
          new StringBuilder("  " + HoldingText.padded(cut(label(servers.get(s), servers)), NAME));
      for (int c = 0; c < columns; c++) {
        row.append("  ").append(cell(pairs.report(s, c), letters, meanings));
      }
      output.line(row.toString());
    }
    if (servers.size() > ROWS || clients.size() > COLUMNS) {
      output.line(paint.faint("  not all pairs are shown; --json lists all"));
      pairs.reports().forEach(report -> cell(report, letters, meanings));
    }
    output.line("");
    for (int c = 0; c < columns; c++) {
      output.line(
          "  " + HoldingText.padded(String.valueOf(c + 1), 4) + named(clients.get(c), clients));
    }
    if (!meanings.isEmpty()) {
      output.line("");
      output.line(paint.heading("Why not"));
    }
    meanings.forEach(
        (letter, finding) -> {
          output.line("  " + HoldingText.padded(letter, 4) + paint.heading(finding.id()));
          output.wrapped("      ", finding.statement(OptionNames::mention));
          output.remedy("      ", finding.remedy());
        });
    new FindingsSection(output).print(pairs.findings());
  }

  private String cell(
      RehearsalReport report, Map<String, String> letters, Map<String, Finding> meanings) {
    if (report.isAccepted()) {
      return paint.good("yes ");
    }
    String cell = "no";
    for (Finding finding : report.findings()) {
      if (finding.level() == Level.PROBLEM) {
        String key = finding.id() + finding.statement();
        String letter = letters.get(key);
        if (letter == null) {
          letter = letter(letters.size());
          letters.put(key, letter);
          meanings.put(letter, finding);
        }
        cell = letter;
        break; // the first is the worst
      }
    }
    return paint.level(Level.PROBLEM, HoldingText.padded(cell, 4));
  }

  private static String letter(int number) {
    String last = String.valueOf((char) ('A' + number % 26));
    return number < 26 ? last : letter(number / 26 - 1) + last;
  }

  /** What tells one from others of the same name: its file. */
  private static String label(Party party, List<Party> all) {
    return isAlone(party, all) ? party.name() : party.where();
  }

  private static String named(Party party, List<Party> all) {
    return isAlone(party, all) ? party.name() : party.name() + "  " + party.where();
  }

  private static boolean isAlone(Party party, List<Party> all) {
    return all.stream().filter(other -> other.name().equals(party.name())).count() < 2;
  }

  private static String cut(String name) {
    return name.length() < NAME ? name : name.substring(0, NAME - 4) + "...";
  }
}
