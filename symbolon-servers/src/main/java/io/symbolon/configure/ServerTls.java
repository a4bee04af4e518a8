// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.party.Party;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.NotUnderstood;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.FileForms;
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The TLS settings of one server: read and judged with the files that they name, and changed. What
 * would change is judged in the same way before it is written, and nothing is written that the
 * server would refuse. Not for several threads.
 */
public final class ServerTls {
  private final Server server;
  private final Machine machine;
  private final Installation installation;
  private final Surveyor surveyor;
  private final Clock clock;

  private ServerTls(
      Server server, Machine machine, Installation installation, Surveyor surveyor, Clock clock) {
    this.server = server;
    this.machine = machine;
    this.installation = installation;
    this.surveyor = surveyor;
    this.clock = clock;
  }

  /**
   * {@return the settings of a server}
   *
   * @param server the kind of server
   * @param machine the machine it is on
   * @param surveyor how the files are read that its settings name
   * @param clock tells the time
   */
  public static ServerTls of(
      Server server, Machine machine, Installation installation, Surveyor surveyor, Clock clock) {
    return new ServerTls(server, machine, installation, surveyor, clock);
  }

  /**
   * {@return the settings as they are}
   *
   * @throws SymbolonException if a settings file can't be read or understood
   */
  public ServerReport read() {
    Settings settings = server.read(machine, installation);
    PlaceJudge judge = judge(machine, Optional.empty(), List.of(), false);
    List<PlaceReport> places = settings.places().stream().map(judge::judge).toList();
    List<Finding> findings = new ArrayList<>(settings.findings());
    settings.places().stream()
        .flatMap(place -> place.notUnderstood().stream())
        .distinct()
        .forEach(one -> findings.add(one.finding(Level.WARNING)));
    if (!server.keepsItsSettings()) {
      findings.addAll(ManagedFiles.findings(machine.files(), settings.files()));
    }
    return new ServerReport(server.title(), installation, settings.files(), places, findings);
  }

  /**
   * {@return the settings as they are, at some places alone}
   *
   * @param site what the places are called: by name, by a host, or by where they stand
   * @throws SymbolonException if no place is called so, or a settings file can't be read
   */
  public ServerReport read(String site) {
    ServerReport all = read();
    List<PlaceReport> meant =
        all.places().stream().filter(one -> PlaceChoice.isNamed(one.place(), site)).toList();
    if (meant.isEmpty()) {
      throw PlaceChoice.noPlace(
          server.title(), all.places().stream().map(PlaceReport::place).toList(), site);
    }
    Set<Path> files = new LinkedHashSet<>();
    meant.forEach(one -> files.add(one.place().origin().file()));
    List<Finding> findings =
        all.findings().stream()
            .filter(
                one ->
                    files.stream()
                        .anyMatch(file -> one.where().startsWith(VisibleText.of(file.toString()))))
            .filter(one -> isAt(one, meant, all.places()))
            .toList();
    return new ServerReport(all.title(), installation, all.files(), meant, findings);
  }

  /** Whether a finding is about a line of these places, and of no place behind them. */
  private static boolean isAt(Finding finding, List<PlaceReport> meant, List<PlaceReport> all) {
    String where = finding.where();
    int colon = where.lastIndexOf(':');
    if (colon < 0 || !where.substring(colon + 1).matches("\\d{1,9}")) {
      return true;
    }
    int line = Integer.parseInt(where.substring(colon + 1));
    String file = where.substring(0, colon);
    Optional<PlaceReport> owner =
        all.stream()
            .filter(one -> VisibleText.of(one.place().origin().file().toString()).equals(file))
            .filter(one -> one.place().origin().line() <= line)
            .max(java.util.Comparator.comparingInt(one -> one.place().origin().line()));
    return owner.isEmpty() || meant.contains(owner.get());
  }

  private PlaceJudge judge(
      Machine view, Optional<HostName> host, List<Certificate> roots, boolean handshakes) {
    return new PlaceJudge(
        server.kind(),
        view.files(),
        new ReadableFiles(view),
        surveyor,
        Instant.now(clock),
        host,
        roots,
        handshakes);
  }

  /**
   * What would change so that a server does what is wanted, judged as it would be.
   *
   * @param wish what is wanted
   * @param clients clients with whom it is rehearsed, each with whom it trusts; one without a
   *     credential among them counts where the server lets such clients in
   * @return the change, to be looked at and applied
   * @throws SymbolonException if it is not clear which place is meant, or the server can't do it
   */
  public ServerChange plan(Wish wish, List<Party> clients) {
    if (!wish.roles().isEmpty() && !server.hasRoles()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "Nothing was changed.",
          server.title() + " has no roles that a certificate could stand for.",
          "Leave " + Input.ROLE.mention() + " out.");
    }
    FileForms.check(server.title(), server.forms(), wish.form());
    return planned(wish, clients, server.read(machine, installation));
  }

  private ServerChange planned(Wish wish, List<Party> clients, Settings before) {
    Proposal proposal = server.propose(machine, installation, wish);
    Machine view = machine.with(proposal.view());
    Optional<HostName> host = wish.hosts().stream().filter(one -> !one.isWildcard()).findFirst();
    Settings after = server.read(view, installation);
    List<Certificate> roots = new ArrayList<>();
    clients.forEach(client -> client.trust().ifPresent(roots::addAll));
    PlaceJudge judge = judge(view, host, roots, true);
    PlacePairs pairs = new PlacePairs(before.places(), after.places());
    TlsPlace becomes =
        pairs.after(proposal.place(), wish.port()).orElseThrow(() -> overruled(proposal));
    refuseOtherPort(becomes, wish);
    PlaceReport place = judge.judge(becomes);
    List<Finding> findings = new ArrayList<>(proposal.findings());
    findings.addAll(place.findings());
    findings.addAll(judge.newFiles(place.place(), proposal.changes()));
    pairs
        .before(proposal.place())
        .filter(one -> one.mode() == Mode.PASSED_ON || one.mode() == Mode.REJECTING)
        .ifPresent(one -> findings.add(noCertificateHere(one)));
    notUnderstood(before, pairs.before(proposal.place()), becomes)
        .forEach(one -> findings.add(one.finding(Level.PROBLEM)));
    findings.addAll(new SideEffects(machine, before, proposal).findings());
    findings.addAll(
        new UnaskedChanges(
                wish,
                pairs,
                machine.files(),
                view.files(),
                shown(pairs.before(proposal.place())),
                place,
                one -> shown(Optional.of(one)),
                one -> judge(view, Optional.empty(), List.of(), false).judge(one).shown())
            .findings());
    findings.addAll(
        ReplacedFiles.findings(
            proposal.changes(),
            machine,
            surveyor,
            passwords(before),
            Input.CLIENT_AUTHORITIES.mention("FILE...")));
    String own = place.place().origin().toString();
    Set<String> known =
        before.findings().stream().map(ServerTls::withoutLine).collect(Collectors.toSet());
    // What is wrong elsewhere was wrong before, and is not what this change is about.
    after.findings().stream()
        .filter(finding -> !known.contains(withoutLine(finding)) || finding.where().equals(own))
        .forEach(findings::add);
    findings.addAll(
        ManagedFiles.findings(
            machine.files(),
            proposal.changes().stream()
                .filter(change -> change.settings() && change.before().isPresent())
                .map(FileChange::path)
                .toList()));
    findings.addAll(Ports.taken(before.places(), after.places()));
    findings.addAll(notReached(place.place(), wish));
    // Where every client must show a certificate, one without is what the probe asks as.
    List<Party> meant =
        clients.stream()
            .filter(
                client -> client.credential().isPresent() || place.place().mode() != Mode.MUTUAL)
            .toList();
    List<RehearsedClient> rehearsed = judge.clients(place, meant);
    rehearsed.forEach(report -> findings.addAll(report.findings()));
    if (place.place().mode().asksClients()
        && clients.stream().noneMatch(client -> client.credential().isPresent())) {
      findings.add(
          Finding.of(
              FindingKind.CLIENTS_NOT_REHEARSED,
              "",
              "No client's files were given: whether its clients get in was not rehearsed.",
              "Give those of one: " + Input.CLIENT.mention("FILE...")));
    }
    List<Finding> distinct =
        findings.stream()
            .distinct()
            .sorted(java.util.Comparator.comparing(Finding::level))
            .toList();
    return new ServerChange(
        server,
        machine,
        installation,
        wish,
        clients,
        proposal,
        place,
        redirecting(after, wish),
        rehearsed,
        distinct,
        clock,
        Stream.concat(passwords(before).stream(), passwords(after).stream()).toList());
  }

  /**
   * What is not understood is not written over: at the place that is meant, as it is and as it
   * would be; where it is made, anywhere, since what it stands beside may be the same.
   */
  private static Set<NotUnderstood> notUnderstood(
      Settings before, Optional<TlsPlace> meant, TlsPlace becomes) {
    Set<NotUnderstood> all = new LinkedHashSet<>(becomes.notUnderstood());
    meant.ifPresentOrElse(
        place -> all.addAll(place.notUnderstood()),
        () -> before.places().forEach(place -> all.addAll(place.notUnderstood())));
    return all;
  }

  private static List<Secret> passwords(Settings settings) {
    return settings.places().stream()
        .flatMap(place -> place.files().stream())
        .flatMap(file -> file.passwords().stream())
        .distinct()
        .toList();
  }

  /** Where the port listens that is to send clients to TLS: perhaps at another address. */
  private static List<Endpoint> redirecting(Settings after, Wish wish) {
    return after.places().stream()
        .flatMap(one -> one.endpoints().stream())
        .filter(end -> !end.tls() && wish.redirectFrom().equals(Optional.of(end.port())))
        .distinct()
        .toList();
  }

  /** What a finding says and of which file; lines move when others are put in. */
  private static String withoutLine(Finding finding) {
    return finding.id()
        + ' '
        + finding.where().replaceFirst(":\\d+$", "")
        + ' '
        + finding.statement().replaceAll(":\\d+\\b", "");
  }

  /** What a place shows now; nothing where it shows nothing, or that can't be read. */
  private List<Party> shown(Optional<TlsPlace> place) {
    return place
        .filter(TlsPlace::isTls)
        .map(one -> judge(machine, Optional.empty(), List.of(), false).judge(one).shown())
        .orElse(List.of());
  }

  private static Finding noCertificateHere(TlsPlace place) {
    return Finding.of(
        FindingKind.CHANGES_MORE,
        place.origin().toString(),
        VisibleText.of(place.name())
            + (place.mode() == Mode.PASSED_ON
                ? " passes TLS on to what is behind it, which shows the certificate."
                : " refuses every TLS handshake, and that is set.")
            + " With a certificate here, it would do something else.",
        place.mode() == Mode.PASSED_ON
            ? "Configure the server behind it. To end TLS here, change the settings by hand first."
            : "Choose the site that is meant: "
                + Input.SITE.mention("NAME")
                + ". Or take that setting away first.");
  }

  /**
   * A port that was asked for is the place's; a place that keeps its own is not what was wished.
   */
  private static void refuseOtherPort(TlsPlace becomes, Wish wish) {
    List<Integer> ports = becomes.endpoints().stream().map(Endpoint::port).distinct().toList();
    if (ports.isEmpty() || wish.port().filter(port -> !ports.contains(port)).isEmpty()) {
      return;
    }
    throw new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "Nothing was changed.",
        VisibleText.of(becomes.name())
            + " is at port "
            + ports.stream().map(String::valueOf).collect(Collectors.joining(", "))
            + ", and would not answer at port "
            + wish.port().get()
            + ".",
        "Leave "
            + Input.PORT.mention()
            + " out, to change it where it is. Leave "
            + Input.SITE.mention()
            + " out, for one more at that port.");
  }

  private static SymbolonException overruled(Proposal proposal) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "Nothing was changed.",
        "With the new settings, "
            + VisibleText.of(proposal.place().name())
            + " would not speak TLS: another setting overrules them.",
        "Look for it in the settings files, or in the description of the server.");
  }

  /** What was wanted and would not be so, for whatever reason. */
  private static List<Finding> notReached(TlsPlace place, Wish wish) {
    List<Finding> findings = new ArrayList<>();
    if (wish.mode().isPresent() && place.mode() != wish.mode().get()) {
      findings.add(
          Finding.of(
              FindingKind.SETTING_IGNORED,
              Level.PROBLEM,
              place.origin().toString(),
              "With the new settings, "
                  + place.name()
                  + " would be "
                  + place.mode().word()
                  + " and not "
                  + wish.mode().get().word()
                  + ": another setting overrules them.",
              "Look for it in the settings that include this file."));
    }
    return findings;
  }
}
