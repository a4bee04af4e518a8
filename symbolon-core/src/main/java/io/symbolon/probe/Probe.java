// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.net.InetAddress;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import javax.net.ssl.SSLParameters;

/**
 * Real handshakes with a running server, and the judgement of what they showed: one by the platform
 * with each of its addresses, and beginnings of handshakes that find out every protocol version and
 * cipher suite it takes. The settings are immutable: every {@code with} method gives a new probe.
 * Thread-safe.
 */
public final class Probe {

  private final ProbedServer target;
  private final Terms terms;

  private record ProbedServer(
      String address,
      int port,
      HostName host,
      Duration limit,
      Optional<StartWith> startWith,
      Connector.Names names) {}

  private record Terms(
      Optional<Collection<Certificate>> trust,
      Optional<Credential> credential,
      Optional<Certificate> expected,
      Clock clock,
      boolean everyVersion,
      Optional<String> user) {}

  private Probe(ProbedServer target, Terms terms) {
    this.target = target;
    this.terms = terms;
  }

  /**
   * {@return a probe of a server, which is asked for by the name it is reached at, with ten seconds
   * to answer}
   *
   * @param address a host name or an IP address
   * @param port from 1 to 65535
   * @throws SymbolonException if there is no such port or host name
   */
  public static Probe of(String address, int port) {
    if (port < 1 || port > 65_535) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          port + " is no port.",
          "Ports go from 1 to 65535.",
          "Write the address as HOST:PORT, such as ingest.lanternfish.example:8443.");
    }
    HostName host = HostName.parse(address);
    return new Probe(
        new ProbedServer(
            host.toString(),
            port,
            host,
            Duration.ofSeconds(10),
            Optional.empty(),
            InetAddress::getAllByName),
        new Terms(
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Clock.systemUTC(),
            true,
            Optional.empty()));
  }

  /**
   * With another name to ask for and to check: the one that clients will use.
   *
   * @return a changed copy
   */
  public Probe withHost(HostName host) {
    return with(
        new ProbedServer(
            target.address, target.port, host, target.limit, target.startWith, target.names));
  }

  /**
   * With the certificates that a client would trust.
   *
   * @param trust whom to trust
   * @return a changed copy
   */
  public Probe withTrust(Collection<Certificate> trust) {
    return with(
        new Terms(
            Optional.of(List.copyOf(trust)),
            terms.credential,
            terms.expected,
            terms.clock,
            terms.everyVersion,
            terms.user));
  }

  /**
   * With another time limit, for connecting and for each answer.
   *
   * @param limit how long to wait
   * @return a changed copy
   */
  public Probe withLimit(Duration limit) {
    return with(
        new ProbedServer(
            target.address, target.port, target.host, limit, target.startWith, target.names));
  }

  /**
   * With a clock that says what is expired.
   *
   * @param clock the clock that tells what is expired
   * @return a changed copy
   */
  public Probe withClock(Clock clock) {
    return with(
        new Terms(
            terms.trust, terms.credential, terms.expected, clock, terms.everyVersion, terms.user));
  }

  /**
   * With what the client shows where the server asks for a certificate (mutual TLS).
   *
   * @return a changed copy
   */
  public Probe withCredential(Credential credential) {
    return with(
        new Terms(
            terms.trust,
            Optional.of(credential),
            terms.expected,
            terms.clock,
            terms.everyVersion,
            terms.user));
  }

  /**
   * With the certificate that the server is expected to show: the one that was deployed.
   *
   * @return a changed copy
   */
  public Probe withExpected(Certificate certificate) {
    return with(
        new Terms(
            terms.trust,
            terms.credential,
            Optional.of(certificate),
            terms.clock,
            terms.everyVersion,
            terms.user));
  }

  /**
   * With a service that begins in clear text and switches to TLS.
   *
   * @param startWith what speaks in clear text before TLS
   * @return a changed copy
   */
  public Probe withStart(StartWith startWith) {
    return with(
        new ProbedServer(
            target.address,
            target.port,
            target.host,
            target.limit,
            Optional.of(startWith),
            target.names));
  }

  /**
   * With one handshake for each address and no question for other versions and suites.
   *
   * @return a changed copy
   */
  public Probe withHandshakeAlone() {
    return with(
        new Terms(terms.trust, terms.credential, terms.expected, terms.clock, false, terms.user));
  }

  /**
   * With the account for which a service is asked that wants one before anything else, such as a
   * database. Without it, that is the common name of the certificate that is shown.
   *
   * @param user the account
   * @return a changed copy
   */
  public Probe withUser(String user) {
    return with(
        new Terms(
            terms.trust,
            terms.credential,
            terms.expected,
            terms.clock,
            terms.everyVersion,
            Optional.of(user)));
  }

  /** With another name service. */
  Probe withNames(Connector.Names names) {
    return with(
        new ProbedServer(
            target.address, target.port, target.host, target.limit, target.startWith, names));
  }

  private Probe with(ProbedServer newTarget) {
    return new Probe(newTarget, terms);
  }

  private Probe with(Terms newTerms) {
    return new Probe(target, newTerms);
  }

  /**
   * Probes the server. A handshake that fails is in the report.
   *
   * @return the probe report
   * @throws SymbolonException with {@link Reason#NO_ANSWER} if nobody answers at the address
   */
  public ProbeReport run() {
    Connector connector =
        new Connector(target.address, target.port, target.limit, target.startWith, target.names);
    List<InetAddress> all = connector.addresses();
    List<Connector.Reached> addresses = new ArrayList<>();
    List<ObservedHandshake> seen = new ArrayList<>();
    List<SymbolonException> failures = new ArrayList<>();
    for (InetAddress address : all.subList(0, Math.min(Limits.ADDRESSES, all.size()))) {
      Connector.Reached one = connector.reach(address);
      addresses.add(one);
      if (one.socket().isPresent()) {
        try {
          seen.add(
              new ProbeHandshake(
                      connector, target.host, target.port, terms.credential, terms.user, now())
                  .run(one));
        } catch (SymbolonException e) {
          failures.add(e); // nothing came back; another address may do better
        }
      } else {
        failures.add(connector.noAnswer(one.failure().orElse("")));
      }
    }
    if (seen.isEmpty()) {
      throw failures.get(0);
    }
    ObservedHandshake first = seen.get(0);
    List<Finding> findings = new ArrayList<>(first.findings());
    List<AddressSeen> byAddress = new ArrayList<>();
    for (Connector.Reached one : addresses) {
      byAddress.add(AddressSeen.of(one, seen));
    }
    findings.addAll(AddressSeen.findings(byAddress, first.where()));
    if (all.size() > Limits.ADDRESSES) {
      findings.add(
          Finding.of(
              FindingKind.ADDRESSES_NOT_PROBED,
              first.where(),
              "The name has "
                  + all.size()
                  + " addresses; the first "
                  + Limits.ADDRESSES
                  + " were probed.",
              Remedy.of(
                  "Probe the others one by one, with the name to ask for.",
                  Action.of(Task.PROBE).with(Input.HOST))));
    }
    List<VersionTaken> versions = List.of();
    if (terms.everyVersion && first.isTls() && connector.isDatabaseByAccount()) {
      findings.add(
          Finding.of(
              FindingKind.VERSIONS_LEFT_OUT,
              first.where(),
              "Which protocol versions and cipher suites the database takes was not asked: it blocks a"
                  + " host after some connections that end without a login (max_connect_errors).",
              ""));
    } else if (terms.everyVersion && first.isTls()) {
      versions = new VersionProbe(connector, target.host).run(first.reached().address());
      findings.addAll(VersionProbe.findings(versions, first.where()));
    }
    return new ProbeJudge(target.host, terms.trust, terms.expected, now())
        .report(first, second(connector, first, findings), versions, byAddress, findings);
  }

  /** What a client sees that can't use the certificate shown first, where that is another one. */
  private Optional<ObservedHandshake> second(
      Connector connector, ObservedHandshake first, List<Finding> findings) {
    List<Certificate> sent = first.observer().read(e -> {});
    if (!terms.everyVersion
        || connector.isDatabaseByAccount()
        || first.session().isEmpty()
        || sent.isEmpty()) {
      return Optional.empty();
    }
    WithoutKind kind = WithoutKind.of(sent.get(0));
    List<Consumer<SSLParameters>> ways = List.of(kind::restrictSuites, kind::restrictSignatures);
    Optional<ObservedHandshake> seen =
        ways.stream()
            .flatMap(way -> again(connector, first, way).stream())
            .filter(one -> one.observer().read(e -> {}).size() > 0)
            .findFirst()
            .filter(one -> !one.observer().read(e -> {}).get(0).equals(sent.get(0)));
    seen.ifPresent(
        one ->
            findings.add(
                Finding.of(
                    FindingKind.SECOND_CERTIFICATE,
                    first.where(),
                    "To clients that can't use its first certificate ("
                        + sent.get(0).publicKey().description()
                        + "), the server shows another one ("
                        + one.observer().read(e -> {}).get(0).publicKey().description()
                        + ").",
                    "")));
    return seen;
  }

  private Optional<ObservedHandshake> again(
      Connector connector, ObservedHandshake first, Consumer<SSLParameters> way) {
    Connector.Reached again = connector.reach(first.reached().address());
    if (again.socket().isEmpty()) {
      return Optional.empty();
    }
    try {
      return Optional.of(
          new ProbeHandshake(
                  connector, target.host, target.port, terms.credential, terms.user, now())
              .without(way)
              .run(again));
    } catch (SymbolonException e) {
      return Optional.empty(); // it does not answer a client that can't use the first
    }
  }

  private java.time.Instant now() {
    return terms.clock.instant();
  }
}
