// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.chain.RevocationJudge;
import io.symbolon.chain.SystemRoots;
import io.symbolon.explain.ChainExplainer;
import io.symbolon.explain.OtherClients;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.party.Party;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * A real handshake of the platform, in memory, between a server's files and a client's files. A
 * server with a trust of its own requires a client's certificate; a client without any lets every
 * server pass, and that is said. The settings are immutable. Thread-safe.
 */
public final class Rehearsal {
  /** How many pairs have a handshake each before any is deduced. */
  public static final int MANY = 400;

  /** What is wrong for others, and no reason for which Java refuses a chain. */
  private static final Set<FindingKind> PASSED_BY_JAVA =
      Set.of(
          FindingKind.NO_ALTERNATIVE_NAMES,
          FindingKind.ISSUER_NOT_FOR_USE,
          FindingKind.TRUST_WITHOUT_ROOT,
          FindingKind.ANY_USE_ALONE);

  /** The protocol versions that are rehearsed. */
  public static final List<ProtocolVersion> PROTOCOLS =
      List.of(ProtocolVersion.TLS_1_3, ProtocolVersion.TLS_1_2);

  private final Optional<HostName> host;
  private final Clock clock;
  private final boolean atAnotherTime;
  private final List<ProtocolVersion> protocols;
  private final SystemRoots systemRoots;
  private final Map<Side, List<RevocationList>> lists;
  private final boolean clientsOptional;

  private Rehearsal(
      Optional<HostName> host,
      Clock clock,
      boolean atAnotherTime,
      List<ProtocolVersion> protocols,
      SystemRoots systemRoots,
      Map<Side, List<RevocationList>> lists,
      boolean clientsOptional) {
    this.clientsOptional = clientsOptional;
    this.lists = Map.copyOf(lists);
    this.systemRoots = systemRoots;
    this.host = host;
    this.clock = clock;
    this.atAnotherTime = atAnotherTime;
    this.protocols = List.copyOf(protocols);
  }

  /** {@return a rehearsal of all protocol versions, now, with no host to check} */
  public static Rehearsal create() {
    return new Rehearsal(
        Optional.empty(),
        Clock.systemUTC(),
        false,
        PROTOCOLS,
        SystemRoots.ofPlatform(),
        Map.of(),
        false);
  }

  /**
   * With the name by which the client asks for the server, and that the certificate must cover.
   *
   * @return a changed copy
   */
  public Rehearsal withHost(HostName newHost) {
    return new Rehearsal(
        Optional.of(newHost), clock, atAnotherTime, protocols, systemRoots, lists, clientsOptional);
  }

  /**
   * At another moment: validity is judged for it, by the platform as well.
   *
   * @return a changed copy
   */
  public Rehearsal at(Instant moment) {
    Clock fixed = Clock.fixed(moment, java.time.ZoneOffset.UTC);
    return new Rehearsal(host, fixed, true, protocols, systemRoots, lists, clientsOptional);
  }

  /**
   * With the revocation lists by which one side judges the other's certificates. What is on them is
   * a finding; the platform's handshake does not look at them.
   *
   * @param judge the side that judges
   * @param newLists the revocation lists
   * @return a changed copy
   */
  public Rehearsal withRevocationLists(Side judge, List<RevocationList> newLists) {
    Map<Side, List<RevocationList>> all = new EnumMap<>(Side.class);
    all.putAll(lists);
    all.put(judge, List.copyOf(newLists));
    return new Rehearsal(host, clock, atAnotherTime, protocols, systemRoots, all, clientsOptional);
  }

  /**
   * With a server that asks for a client's certificate and does not require one: a client without
   * any gets in, and one with a certificate that is refused does not.
   *
   * @return a changed copy
   */
  public Rehearsal withOptionalClients() {
    return new Rehearsal(host, clock, atAnotherTime, protocols, systemRoots, lists, true);
  }

  /**
   * With these protocol versions alone.
   *
   * @param newProtocols the protocol versions
   * @return a changed copy
   */
  public Rehearsal withProtocols(List<ProtocolVersion> newProtocols) {
    return new Rehearsal(
        host, clock, atAnotherTime, newProtocols, systemRoots, lists, clientsOptional);
  }

  /**
   * Rehearses one server with one client.
   *
   * @param server has a credential
   * @return the rehearsal report
   */
  public RehearsalReport run(Party server, Party client) {
    Attempts attempts = attempts();
    return report(
        server,
        client,
        protocols.stream().map(protocol -> attempts.once(server, client, protocol)).toList(),
        shown(Side.SERVER, server, client),
        shown(Side.CLIENT, client, server));
  }

  /**
   * What is to be said of the certificates that one side shows to the other, without a handshake.
   *
   * @param chain what is wrong with them for the one who judges them
   * @param more what is to be said besides
   */
  private record Shown(List<Finding> chain, List<Finding> more) {
    boolean explains() {
      return chain.stream()
          .anyMatch(
              finding ->
                  finding.level() == Level.PROBLEM && !PASSED_BY_JAVA.contains(finding.kind()));
    }

    Stream<Finding> all() {
      return Stream.concat(chain.stream(), more.stream());
    }
  }

  private Shown shown(Side side, Party party, Party other) {
    if (party.credential().isEmpty()) {
      return new Shown(List.of(), List.of());
    }
    Instant now = clock.instant();
    List<Finding> chain =
        ChainExplainer.of(side, now, party, other)
            .all(
                party.chain(),
                side == Side.SERVER ? host : Optional.empty(),
                other.trust().filter(some -> !some.isEmpty()));
    List<Finding> more =
        new ArrayList<>(
            new RevocationJudge(lists.getOrDefault(side.other(), List.of()), now, party.where())
                .judge(party.chain(), other.trust().orElse(List.of())));
    if (side == Side.SERVER) {
      more.addAll(OtherClients.of(party, other, now, systemRoots));
    }
    return new Shown(chain, more);
  }

  /**
   * Judges what both sides would show each other, without a handshake: fast, and without the word
   * of the platform.
   *
   * @return a report without tries
   */
  public RehearsalReport judge(Party server, Party client) {
    return report(
        server,
        client,
        List.of(),
        shown(Side.SERVER, server, client),
        shown(Side.CLIENT, client, server));
  }

  private Attempts attempts() {
    return new Attempts(
        host,
        clientsOptional,
        new Judges(atAnotherTime ? Optional.of(clock.instant()) : Optional.empty()));
  }

  private RehearsalReport report(
      Party server,
      Party client,
      List<Attempts.AttemptEnd> outcomes,
      Shown serverShown,
      Shown clientShown) {
    Set<Finding> findings = new LinkedHashSet<>();
    for (Attempts.AttemptEnd outcome : outcomes) {
      outcome.why().ifPresent(findings::add);
      outcome
          .refused()
          .filter(
              refused -> !(refused.shownBy() == Side.SERVER ? serverShown : clientShown).explains())
          .ifPresent(refused -> findings.add(refused.otherwise()));
    }
    Stream.of(serverShown, clientShown).flatMap(Shown::all).forEach(findings::add);
    if (client.trust().isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.TRUST_NOT_CHECKED,
              client.where(),
              "Whether the client trusts the server was not checked: nothing is known of its trust.",
              Remedy.of("Give its truststore.", Action.again(Input.CLIENT_TRUST))));
    }
    if (host.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.HOST_NOT_CHECKED,
              server.where(),
              "Whether the server's certificate covers its host was not checked: no host was given.",
              Remedy.of("Give the name that clients use.", Action.again(Input.HOST))));
    }
    if (server.trust().isEmpty() && client.credential().isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.CLIENT_CERTIFICATE_NOT_ASKED,
              server.where(),
              "The server asks for no client's certificate: nothing is known of its trust.",
              Remedy.of(
                  "Give its truststore to rehearse mutual TLS.",
                  Action.again(Input.SERVER_TRUST))));
    }
    findings.addAll(OtherServers.ofFiles(server));
    boolean accepted = outcomes.stream().allMatch(outcome -> outcome.result().isAccepted());
    List<OtherServer> others =
        accepted
            ? OtherServers.of(server, client, findings, clock.instant())
            : OtherServers.ofRefused(server, client, findings, clock.instant());
    List<Finding> sorted = new ArrayList<>(findings);
    sorted.sort(Comparator.comparing(Finding::level));
    return new RehearsalReport(
        server.name(),
        client.name(),
        outcomes.stream().map(Attempts.AttemptEnd::result).toList(),
        sorted,
        others);
  }

  /**
   * Rehearses every server with every client. Up to {@value #MANY} pairs have a handshake each; of
   * more, what most of them do is deduced, which is said in a finding.
   *
   * @param everyPair whether each pair has its handshake, however many there are
   * @param about what else is to be said, such as of the files of the sides
   * @return the rehearsed pairs
   */
  public RehearsedPairs all(
      List<Party> servers, List<Party> clients, boolean everyPair, List<Finding> about) {
    int pairs = servers.size() * clients.size();
    List<Finding> findings = new ArrayList<>(about);
    if (pairs <= MANY || everyPair) {
      return new RehearsedPairs(servers, clients, matrix(servers, clients), findings);
    }
    findings.add(
        Finding.of(
            FindingKind.PAIRS_DEDUCED,
            "",
            "There are "
                + pairs
                + " pairs. Each server was rehearsed with one client and each client with one"
                + " server; what the other pairs do follows from that, because neither side's"
                + " certificates have a say in how the other's are judged.",
            Remedy.of(
                "Have a handshake of each pair, which takes its time.",
                Action.again(Input.EVERY_PAIR))));
    return new RehearsedPairs(servers, clients, deducedMatrix(servers, clients), findings);
  }

  /**
   * Rehearses every server with every client, each pair with a handshake of its own, on all cores.
   *
   * @return the reports, all clients of the first server first
   */
  public List<RehearsalReport> matrix(List<Party> servers, List<Party> clients) {
    Attempts attempts = attempts();
    return matrix(
        servers,
        clients,
        (s, c, protocol) -> attempts.once(servers.get(s), clients.get(c), protocol));
  }

  /**
   * {@return the same with handshakes of every server with one client and of every client with one
   * server alone: what the other pairs do follows from them, because neither side's certificates
   * have a say in how the other's are judged} Where it does not follow, each pair has its
   * handshake.
   */
  public List<RehearsalReport> deducedMatrix(List<Party> servers, List<Party> clients) {
    return matrix(servers, clients, new Deduction(attempts(), servers, clients, protocols));
  }

  /** What a pair does over a protocol version. */
  interface Pairs {
    Attempts.AttemptEnd of(int server, int client, ProtocolVersion protocol);
  }

  private List<RehearsalReport> matrix(List<Party> servers, List<Party> clients, Pairs pairs) {
    // What is shown is judged once for each trust that it is shown to, and not for each pair.
    Map<Judged, Shown> known = new ConcurrentHashMap<>();
    return IntStream.range(0, servers.size() * clients.size())
        .parallel()
        .mapToObj(
            i -> {
              int s = i / clients.size();
              int c = i % clients.size();
              Party server = servers.get(s);
              Party client = clients.get(c);
              return report(
                  server,
                  client,
                  protocols.stream().map(protocol -> pairs.of(s, c, protocol)).toList(),
                  known.computeIfAbsent(
                      new Judged(Side.SERVER, s, client.trust()),
                      judged -> shown(Side.SERVER, server, client)),
                  known.computeIfAbsent(
                      new Judged(Side.CLIENT, c, server.trust()),
                      judged -> shown(Side.CLIENT, client, server)));
            })
        .toList();
  }

  private record Judged(Side side, int number, Optional<List<Certificate>> trust) {}
}
