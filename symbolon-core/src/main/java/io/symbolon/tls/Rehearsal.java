package io.symbolon.tls;

import io.symbolon.Finding;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.chain.SystemRoots;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSession;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * A real handshake of the platform, in memory, between a server's files and a client's files. A
 * server with a trust of its own requires a client's certificate; a client without any lets every
 * server pass, and that is said. The settings are immutable. Thread-safe.
 */
public final class Rehearsal {
  /** The protocol versions that are rehearsed. */
  public static final List<String> PROTOCOLS = List.of("TLSv1.3", "TLSv1.2");

  private final Optional<HostName> host;
  private final Clock clock;
  private final boolean atAnotherTime;
  private final List<String> protocols;

  private Rehearsal(
      Optional<HostName> host, Clock clock, boolean atAnotherTime, List<String> protocols) {
    this.host = host;
    this.clock = clock;
    this.atAnotherTime = atAnotherTime;
    this.protocols = List.copyOf(protocols);
  }

  /** A rehearsal of all protocol versions, now, with no host to check. */
  public static Rehearsal create() {
    return new Rehearsal(Optional.empty(), Clock.systemUTC(), false, PROTOCOLS);
  }

  /** With the name by which the client asks for the server, and that the certificate must cover. */
  public Rehearsal withHost(HostName newHost) {
    return new Rehearsal(Optional.of(newHost), clock, atAnotherTime, protocols);
  }

  /** At another moment: validity is judged for it, by the platform as well. */
  public Rehearsal at(Instant moment) {
    Clock fixed = Clock.fixed(moment, java.time.ZoneOffset.UTC);
    return new Rehearsal(host, fixed, true, protocols);
  }

  /** With these protocol versions alone. */
  public Rehearsal withProtocols(List<String> newProtocols) {
    return new Rehearsal(host, clock, atAnotherTime, newProtocols);
  }

  /**
   * Rehearses one server with one client.
   *
   * @param server has a credential
   */
  public RehearsalReport run(Party server, Party client) {
    return run(
        server, client, shown(Side.SERVER, server, client), shown(Side.CLIENT, client, server));
  }

  /**
   * What is to be said of the certificates that one side shows to the other, without a handshake.
   */
  private List<Finding> shown(Side side, Party party, Party other) {
    if (party.credential().isEmpty()) {
      return List.of();
    }
    Instant now = clock.instant();
    List<Finding> findings =
        new ArrayList<>(
            new ChainExplainer(side, now, party.where())
                .all(
                    party.chain(),
                    side == Side.SERVER ? host : Optional.empty(),
                    other.trust().filter(some -> !some.isEmpty())));
    if (side == Side.SERVER) {
      findings.addAll(Elsewhere.of(party, other, now, SystemRoots.ofPlatform()));
    }
    return findings;
  }

  private RehearsalReport run(
      Party server, Party client, List<Finding> serverShown, List<Finding> clientShown) {
    if (server.credential().isEmpty()) {
      throw new IllegalArgumentException("a server needs a credential");
    }
    List<RehearsalReport.Try> tries = new ArrayList<>();
    Set<Finding> findings = new LinkedHashSet<>();
    for (String protocol : protocols) {
      tries.add(once(server, client, protocol, findings));
    }
    findings.addAll(serverShown);
    findings.addAll(clientShown);
    if (client.trust().isEmpty()) {
      findings.add(
          Finding.warning(
              "trust-not-checked",
              client.where(),
              "Whether the client trusts the server was not checked: nothing is known of its trust.",
              "Give its truststore with --client-trust FILE."));
    }
    if (host.isEmpty()) {
      findings.add(
          Finding.warning(
              "host-not-checked",
              server.where(),
              "Whether the server's certificate covers its host was not checked: no host was given.",
              "Give the name that clients use with --host NAME."));
    }
    if (server.trust().isEmpty() && client.credential().isPresent()) {
      findings.add(
          Finding.note(
              "client-certificate-not-asked",
              server.where(),
              "The server asks for no client's certificate: nothing is known of its trust.",
              "Give its truststore with --server-trust FILE to rehearse mutual TLS."));
    }
    List<Finding> sorted = new ArrayList<>(findings);
    sorted.sort(Comparator.comparing(Finding::level));
    return new RehearsalReport(server.name(), client.name(), tries, sorted);
  }

  /**
   * Rehearses every server with every client, on all cores.
   *
   * @return the reports, all clients of the first server first
   */
  public List<RehearsalReport> matrix(List<Party> servers, List<Party> clients) {
    // What is shown is judged once for each trust that it is shown to, and not for each pair.
    Map<Judged, List<Finding>> known = new ConcurrentHashMap<>();
    return IntStream.range(0, servers.size() * clients.size())
        .parallel()
        .mapToObj(
            i -> {
              int s = i / clients.size();
              int c = i % clients.size();
              Party server = servers.get(s);
              Party client = clients.get(c);
              return run(
                  server,
                  client,
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

  private RehearsalReport.Try once(
      Party server, Party client, String protocol, Set<Finding> findings) {
    Watched watched = new Watched(client);
    SSLEngine serverEngine;
    SSLEngine clientEngine;
    try {
      serverEngine = serverEngine(server, protocol, watched);
      clientEngine = clientEngine(client, protocol, watched);
    } catch (SymbolonException e) {
      findings.add(Finding.problem("trust-empty", "", e.statement() + " " + e.seen(), e.remedy()));
      return new RehearsalReport.Try(
          protocol, Optional.empty(), Optional.empty(), e.statement() + " " + e.seen());
    }
    MemoryHandshake.Outcome outcome = MemoryHandshake.run(serverEngine, clientEngine);
    if (outcome.first().isEmpty()) {
      SSLSession session = outcome.session().orElseThrow();
      return new RehearsalReport.Try(
          protocol, Optional.of(session.getCipherSuite()), Optional.empty(), "");
    }
    Side refusing = outcome.first().get();
    SSLException raw = outcome.of(refusing).orElseThrow();
    findings.addAll(
        new RehearsalExplainer(server, client, host, clock.instant(), watched)
            .explain(refusing, raw, protocol));
    return new RehearsalReport.Try(protocol, Optional.empty(), outcome.first(), Failures.text(raw));
  }

  private SSLEngine serverEngine(Party server, String protocol, Watched watched) {
    X509ExtendedTrustManager trust = watched.judge(trust(server));
    SSLContext context =
        TlsContexts.of(
            server.credential().<KeyManager>map(CredentialKeyManager::new), Optional.of(trust));
    SSLEngine engine = context.createSSLEngine();
    engine.setUseClientMode(false);
    engine.setNeedClientAuth(server.trust().isPresent());
    engine.setEnabledProtocols(new String[] {protocol});
    return engine;
  }

  private SSLEngine clientEngine(Party client, String protocol, Watched watched) {
    X509ExtendedTrustManager trust = watched.judge(trust(client));
    SSLContext context = TlsContexts.of(Optional.of(watched.keys()), Optional.of(trust));
    SSLEngine engine =
        host.map(name -> context.createSSLEngine(name.toString(), 443))
            .orElseGet(context::createSSLEngine);
    engine.setUseClientMode(true);
    engine.setEnabledProtocols(new String[] {protocol});
    SSLParameters parameters = engine.getSSLParameters();
    if (host.isPresent()) {
      if (client.trust().isPresent()) {
        parameters.setEndpointIdentificationAlgorithm("HTTPS");
      }
      if (!host.get().isAddress()) {
        parameters.setServerNames(List.of(new SNIHostName(host.get().toString())));
      }
    }
    engine.setSSLParameters(parameters);
    return engine;
  }

  private Optional<X509ExtendedTrustManager> trust(Party party) {
    Optional<Instant> moment = atAnotherTime ? Optional.of(clock.instant()) : Optional.empty();
    return party.trust().map((List<Certificate> trusted) -> TrustManagers.of(trusted, moment));
  }

  /** The text of a failure, safe to be shown. */
  static final class Failures {
    private Failures() {}

    static String text(Throwable e) {
      Throwable deepest = e;
      while (deepest.getCause() != null && deepest.getCause() != deepest) {
        deepest = deepest.getCause();
      }
      String message = String.valueOf(e.getMessage());
      String last = String.valueOf(deepest.getMessage());
      return VisibleText.of(message.contains(last) ? message : message + ": " + last);
    }
  }
}
