// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.party.Party;
import io.symbolon.party.PartyFiles;
import io.symbolon.probe.Probe;
import io.symbolon.probe.ProbeReport;
import io.symbolon.rehearse.Rehearsal;
import io.symbolon.rehearse.RehearsalReport;
import io.symbolon.remedy.Input;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.server.wish.FileForms;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The TLS settings of a program that opens connections: proposed, read back from what would be
 * written, and proven with a server, by its files or by asking it. Not for several threads.
 */
public final class ClientTls {
  private static final Duration EACH = Duration.ofSeconds(10);

  private final ClientKind kind;
  private final Machine machine;
  private final Surveyor surveyor;
  private final Clock clock;

  private ClientTls(ClientKind kind, Machine machine, Surveyor surveyor, Clock clock) {
    this.kind = kind;
    this.machine = machine;
    this.surveyor = surveyor;
    this.clock = clock;
  }

  /**
   * {@return the settings of a kind of client}
   *
   * @param machine the machine it is on
   * @param surveyor how files of keys and certificates are read
   * @param clock tells the time
   */
  public static ClientTls of(ClientKind kind, Machine machine, Surveyor surveyor, Clock clock) {
    return new ClientTls(kind, machine, surveyor, clock);
  }

  /**
   * {@return what would change, proven before it is written}
   *
   * @param wish what is wanted
   * @param servers what servers show, to rehearse with
   * @param ask whether the server itself is asked, where its name and port are given
   * @throws SymbolonException if it is not clear what is meant, or the program can't do it
   */
  public ClientChange plan(ClientWish wish, List<Party> servers, boolean ask) {
    FileForms.check(kind.title(), kind.forms(), wish.form());
    ClientProposal proposal = kind.propose(machine, wish, surveyor);
    PlaceFiles read =
        new PlaceFiles(
            machine.with(proposal.changes()).files(), surveyor, place(proposal), List.of());
    List<Finding> findings = new ArrayList<>(proposal.findings());
    findings.addAll(read.findings());
    findings.addAll(
        ReplacedFiles.findings(
            proposal.changes(), machine, surveyor, List.of(), Input.TRUST.mention("FILE...")));
    List<Certificate> trust = PartyFiles.trust(read.trust(), new ArrayList<>());
    Party client =
        PartyFiles.credentials(read.server()).stream()
            .findFirst()
            .orElseGet(() -> Party.nobody("the client"))
            .withTrust(trust);
    List<RehearsedClient> rehearsed = new ArrayList<>();
    for (Party server : servers) {
      RehearsedClient report = rehearsed(wish, client, server);
      rehearsed.add(report);
      findings.addAll(report.findings());
    }
    Optional<ProbeReport> answer =
        ask && wish.host().isPresent() && wish.port().isPresent()
            ? asked(wish, proposal, client, findings)
            : Optional.empty();
    if (servers.isEmpty() && answer.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.CLIENT_NOT_PROVEN,
              Level.NOTE,
              "",
              "No server has taken part: whether this client and its server accept each other is"
                  + " not known.",
              "Let the server be asked: "
                  + Input.HOST.mention("NAME")
                  + " "
                  + Input.PORT.mention("PORT")
                  + ". Or give what it shows: "
                  + Input.SERVER.mention()
                  + " FILE..."));
    }
    return new ClientChange(
        kind,
        proposal,
        client,
        wish.trust(),
        rehearsed,
        answer,
        findings.stream()
            .distinct()
            .sorted(java.util.Comparator.comparing(Finding::level))
            .toList());
  }

  /** A client has no place of its own; its files are read like those of a server. */
  private TlsPlace place(ClientProposal proposal) {
    return TlsPlace.at(
            PlaceId.only(proposal.main(), "client"),
            new Origin(proposal.main(), 1),
            kind.name(),
            kind.title())
        .mode(Mode.MUTUAL)
        .files(proposal.files())
        .startWith(proposal.startWith())
        .build();
  }

  private RehearsedClient rehearsed(ClientWish wish, Party client, Party server) {
    Rehearsal rehearsal = Rehearsal.create().at(Instant.now(clock));
    if (wish.host().isPresent()) {
      rehearsal = rehearsal.withHost(wish.host().get());
    }
    RehearsalReport report = rehearsal.run(server, client);
    List<Finding> problems =
        report.findings().stream().filter(one -> one.level() == Level.PROBLEM).toList();
    boolean accepted = problems.isEmpty() && report.verdict() != RehearsalReport.Verdict.REFUSED;
    return new RehearsedClient(server.name(), accepted, problems);
  }

  private Optional<ProbeReport> asked(
      ClientWish wish, ClientProposal proposal, Party client, List<Finding> findings) {
    Probe probe =
        Probe.of(wish.host().orElseThrow().typed(), wish.port().orElseThrow())
            .withTrust(client.trust().orElse(List.of()))
            .withLimit(EACH)
            .withClock(clock)
            .withHandshakeAlone();
    if (proposal.startWith().isPresent()) {
      probe = probe.withStart(proposal.startWith().get());
    }
    if (client.credential().isPresent()) {
      probe = probe.withCredential(client.credential().get());
    }
    try {
      ProbeReport report = probe.run();
      report.findings().stream().filter(one -> one.level() == Level.PROBLEM).forEach(findings::add);
      return Optional.of(report);
    } catch (SymbolonException e) {
      findings.add(
          Finding.of(
              FindingKind.CLIENT_NOT_PROVEN,
              Level.WARNING,
              VisibleText.of(wish.host().get().typed() + ":" + wish.port().get()),
              "The server did not answer: " + e.seen(),
              "Ask it later, with the same files: symbolon probe HOST:PORT."));
      return Optional.empty();
    }
  }

  static List<FileChange> changed(ClientProposal proposal) {
    return proposal.changes().stream().filter(change -> !change.isNothing()).toList();
  }
}
