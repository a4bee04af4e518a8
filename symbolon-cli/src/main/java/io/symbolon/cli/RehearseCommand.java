package io.symbolon.cli;

import io.symbolon.Finding;
import io.symbolon.Level;
import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.survey.ShellQuote;
import io.symbolon.tls.Party;
import io.symbolon.tls.Rehearsal;
import io.symbolon.tls.RehearsalReport;
import io.symbolon.tls.Side;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** {@code symbolon rehearse}. */
final class RehearseCommand {
  private static final int MANY = 400; // pairs that have a handshake each

  private RehearseCommand() {}

  static CommandSpec spec() {
    return CommandSpec.of(Command.REHEARSE)
        .none()
        .several("server", "FILE...", "The server's files: its key, its certificate and its chain.")
        .several(
            "server-trust",
            "FILE...",
            "Whose clients the server trusts, and its revocation lists. With it, the server requires"
                + " a client's certificate.")
        .several("client", "FILE...", "The client's files, for mutual TLS.")
        .several("client-trust", "FILE...", "Whom the client trusts.")
        .value("host", "NAME", "The name by which the client asks for the server.")
        .value(
            "at",
            "DATE",
            "Rehearse as if it were that day, such as 2027-03-01, or moment, such as"
                + " 2027-03-01T12:00:00Z.")
        .flag(
            "every-pair",
            "A handshake for each pair, also where there are more than " + MANY + " of them.")
        .unlock()
        .common();
  }

  static int run(Invocation invocation) {
    if (invocation.values("server").isEmpty()) {
      throw Invocation.usage(
          "No server is given.",
          "Name its files with --server FILE..., and the client's with --client-trust FILE... and,"
              + " for mutual TLS, --client FILE...");
    }
    List<Finding> fileFindings = new ArrayList<>();
    RehearsalFiles files = new RehearsalFiles(invocation, fileFindings);
    Optional<List<Certificate>> serverTrust = files.trust("server-trust");
    Optional<List<Certificate>> clientTrust = files.trust("client-trust");
    List<Party> servers = with(files.credentials("server"), serverTrust);
    if (servers.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no server to rehearse with.",
          "The files of --server hold no private key with its certificate.",
          "Name the server's keystore, or its key and certificate.");
    }
    List<Party> clients = files.credentials("client");
    if (clients.isEmpty()) {
      if (!invocation.values("client").isEmpty()) {
        throw new SymbolonException(
            Reason.NOT_FOUND,
            "There is no client to rehearse with.",
            "The files of --client hold no private key with its certificate.",
            "Name the client's keystore, or leave --client out for a client without one.");
      }
      clients = List.of(Party.nobody("client"));
    }
    clients = with(clients, clientTrust);
    fileFindings.addAll(invocation.notices());
    Rehearsal rehearsal =
        rehearsal(invocation)
            .withRevocationLists(Side.SERVER, files.lists("server-trust"))
            .withRevocationLists(Side.CLIENT, files.lists("client-trust"));
    int pairs = servers.size() * clients.size();
    boolean matrix = pairs > 1;
    boolean deduced = pairs > MANY && !invocation.has("every-pair");
    if (deduced) {
      fileFindings.add(
          Finding.note(
              "pairs-deduced",
              "",
              "There are "
                  + pairs
                  + " pairs. Each server was rehearsed with one client and each client with one"
                  + " server; what the other pairs do follows from that, because neither side's"
                  + " certificates have a say in how the other's are judged.",
              "For a handshake of each pair, which takes its time, add --every-pair."));
    }
    List<RehearsalReport> reports =
        deduced
            ? rehearsal.deducedMatrix(servers, clients)
            : matrix
                ? rehearsal.matrix(servers, clients)
                : List.of(rehearsal.run(servers.get(0), clients.get(0)));
    reports = reports.stream().map(report -> withFiles(invocation, report)).toList();
    RehearsalText text =
        new RehearsalText(
            invocation.output(),
            servers,
            clients,
            reports,
            fileFindings,
            invocation.value("host").orElse(""));
    if (invocation.output().isJson()) {
      invocation.output().json(text::json);
    } else if (matrix) {
      text.matrix();
    } else {
      text.one();
    }
    boolean accepted = reports.stream().allMatch(RehearsalReport::isAccepted);
    boolean problem =
        fileFindings.stream().anyMatch(f -> f.level() == Level.PROBLEM)
            || reports.stream().anyMatch(r -> Finding.anyProblem(r.findings()));
    return accepted && !problem ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  /** The remedies with the truststore at hand, where one file is it. */
  private static RehearsalReport withFiles(Invocation invocation, RehearsalReport report) {
    List<Finding> findings = new ArrayList<>();
    for (Finding finding : report.findings()) {
      boolean ofClient =
          invocation.values("client").stream().anyMatch(file -> finding.where().startsWith(file));
      List<String> trust = invocation.values(ofClient ? "server-trust" : "client-trust");
      findings.add(
          trust.size() == 1
              ? new Finding(
                  finding.id(),
                  finding.level(),
                  finding.where(),
                  finding.statement(),
                  finding.remedy().replace("TRUSTSTORE", ShellQuote.quote(trust.get(0))))
              : finding);
    }
    return new RehearsalReport(report.server(), report.client(), report.tries(), findings);
  }

  private static List<Party> with(List<Party> parties, Optional<List<Certificate>> trust) {
    return trust.map(t -> parties.stream().map(p -> p.withTrust(t)).toList()).orElse(parties);
  }

  private static Rehearsal rehearsal(Invocation invocation) {
    Rehearsal rehearsal = Rehearsal.create();
    Optional<HostName> host = invocation.value("host").map(Invocation::oneHost);
    if (host.isPresent()) {
      rehearsal = rehearsal.withHost(host.get());
    }
    Optional<String> at = invocation.value("at");
    return at.isPresent() ? rehearsal.at(moment(at.get())) : rehearsal;
  }

  private static Instant moment(String text) {
    try {
      return text.contains("T")
          ? Instant.parse(text)
          : LocalDate.parse(text).atTime(12, 0).toInstant(ZoneOffset.UTC);
    } catch (DateTimeParseException e) {
      throw Invocation.usage(
          "'" + Output.shown(text) + "' is no date.",
          "Write it like 2027-03-01 (noon in UTC) or 2027-03-01T12:00:00Z.");
    }
  }

  static List<Path> paths(Invocation invocation, String option) {
    return invocation.values(option).stream().map(Invocation::path).toList();
  }
}
