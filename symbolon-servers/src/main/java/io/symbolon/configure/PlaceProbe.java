// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.party.Party;
import io.symbolon.probe.Probe;
import io.symbolon.probe.ProbeReport;
import io.symbolon.server.Reload;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.ClientRole;
import io.symbolon.server.wish.Wish;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * Asks a running server whether it does what is wanted: as a client with a certificate where one is
 * given, and as one without, which must be refused where certificates are required. A server that
 * has just been told to reload needs a moment; until then it is asked again.
 */
public final class PlaceProbe {
  private static final Duration EACH = Duration.ofSeconds(5);
  private static final Duration AFTER_RELOAD = Duration.ofSeconds(15);
  private static final Duration AFTER_RESTART = Duration.ofSeconds(90); // or until it notices
  private static final long PAUSE = 150; // milliseconds

  /** For a moment after a reload, processes with the old settings may answer beside the new. */
  private static final int TIMES = 3;

  private final int times;

  private final PlaceReport place;
  private final Wish wish;
  private final List<Endpoint> redirecting;
  private final List<Party> clients;
  private final Clock clock;
  private final Duration patience;

  PlaceProbe(
      PlaceReport place,
      Wish wish,
      List<Endpoint> redirecting,
      List<Party> clients,
      Clock clock,
      Reload.Kind reload) {
    this.redirecting = List.copyOf(redirecting);
    this.times = reload == Reload.Kind.RELOAD ? TIMES : 1; // a restart ends the old processes
    this.patience = reload == Reload.Kind.RELOAD ? AFTER_RELOAD : AFTER_RESTART;
    this.place = place;
    this.wish = wish;
    this.clients = clients;
    this.clock = clock;
  }

  /**
   * What the server answered to one client.
   *
   * @param client who asked, as words
   * @param isAsWanted whether it is what is wanted
   * @param report the probe; nothing where nobody answered
   * @param findings why it is not what is wanted
   */
  public record Answer(
      String client, boolean isAsWanted, Optional<ProbeReport> report, List<Finding> findings) {
    /**
     * Copies the findings.
     *
     * @param client who asked
     * @param isAsWanted whether it is what is wanted
     * @param report the probe
     */
    public Answer {
      findings = List.copyOf(findings);
    }
  }

  private PlaceProbe(PlaceProbe other, Duration patience) {
    this.redirecting = other.redirecting;
    this.times = TIMES;
    this.patience = patience;
    this.place = other.place;
    this.wish = other.wish;
    this.clients = other.clients;
    this.clock = other.clock;
  }

  /** The same for a server that was told nothing: what is not as wanted now stays so. */
  PlaceProbe withoutPatience() {
    return new PlaceProbe(this, Duration.ZERO);
  }

  /** {@return the address that is asked} */
  public Optional<Endpoint> endpoint() {
    List<Endpoint> tls = place.place().endpoints().stream().filter(Endpoint::tls).toList();
    return tls.stream()
        .filter(end -> wish.port().isEmpty() || end.port() == wish.port().get())
        .filter(end -> end.host().indexOf(':') < 0)
        .findFirst()
        .or(() -> tls.stream().findFirst());
  }

  /** {@return the name that is asked for} */
  public Optional<HostName> host() {
    return wish.hosts().stream()
        .filter(host -> !host.isWildcard())
        .findFirst()
        .or(() -> PlaceJudge.host(place.place()));
  }

  /** {@return what the server answers} */
  public List<Answer> run() {
    List<Answer> answers = new ArrayList<>();
    boolean required = place.place().mode() == Mode.MUTUAL;
    long end = System.nanoTime() + patience.toNanos(); // for all clients together
    for (Party client : clients) {
      client
          .credential()
          .ifPresent(own -> answers.add(asked(client.name(), Optional.of(own), false, end)));
    }
    wish.redirectFrom().ifPresent(port -> answers.add(redirected(port, end)));
    answers.add(
        asked(
            required ? "a client without a certificate" : "a client",
            Optional.empty(),
            required,
            end));
    return answers;
  }

  private Answer redirected(int port, long end) {
    String address =
        redirecting.stream()
            .sorted(Comparator.comparing(one -> one.host().indexOf(':') >= 0)) // IPv4 first
            .findFirst()
            .or(this::endpoint)
            .map(Endpoint::reachable)
            .orElse("127.0.0.1");
    RedirectProbe probe =
        new RedirectProbe(
            address, port, host().map(HostName::toString).orElse(address), (int) EACH.toMillis());
    while (true) {
      Optional<Finding> wrong = probe.run();
      if (wrong.isEmpty() || System.nanoTime() > end || !paused()) {
        return new Answer(
            "a client in clear text on port " + port,
            wrong.isEmpty(),
            Optional.empty(),
            wrong.stream().toList());
      }
    }
  }

  private Answer asked(
      String who, Optional<Credential> credential, boolean refusalWanted, long end) {
    int good = 0;
    while (true) {
      Answer answer = once(who, credential, refusalWanted);
      good = answer.isAsWanted() ? good + 1 : 0;
      if (good == times || (good == 0 && System.nanoTime() > end) || !paused()) {
        return answer;
      }
    }
  }

  private Answer once(String who, Optional<Credential> credential, boolean refusalWanted) {
    Optional<Endpoint> endpoint = endpoint();
    if (endpoint.isEmpty()) {
      return new Answer(
          who,
          false,
          Optional.empty(),
          List.of(
              Finding.of(
                  FindingKind.NO_ANSWER,
                  place.place().origin().toString(),
                  "No address is known on which " + place.place().name() + " listens.",
                  "Probe it by hand: symbolon probe HOST:PORT.")));
    }
    Probe probe =
        Probe.of(endpoint.get().reachable(), endpoint.get().port())
            .withTrust(anchors())
            .withLimit(EACH)
            .withClock(clock)
            .withHandshakeAlone();
    if (host().isPresent()) {
      probe = probe.withHost(host().get());
    }
    // With keys of several types, which one is shown is the handshake's choice.
    if (place.credentials().size() == 1) {
      probe = probe.withExpected(place.credentials().get(0).certificate());
    }
    if (place.place().startWith().isPresent()) {
      probe = probe.withStart(place.place().startWith().get());
    }
    if (credential.isPresent()) {
      probe = probe.withCredential(credential.get());
    }
    Optional<String> role = credential.flatMap(this::role);
    if (role.isPresent()) {
      probe = probe.withUser(role.get());
    }
    try {
      return judged(who, probe.run(), refusalWanted, role.isPresent());
    } catch (SymbolonException e) {
      return new Answer(who, false, Optional.empty(), List.of(Finding.of(e, Level.PROBLEM)));
    }
  }

  /** The role that the server is to take a client for. */
  private Optional<String> role(Credential credential) {
    return wish.roles().stream()
        .filter(one -> one.certificate().equals(credential.certificate()))
        .map(ClientRole::role)
        .findFirst();
  }

  private Answer judged(
      String who, ProbeReport report, boolean refusalWanted, boolean loginWanted) {
    boolean rooted = anchors().stream().anyMatch(Certificate::isSelfSigned);
    List<Finding> problems =
        report.findings().stream()
            .filter(
                one ->
                    one.level() == Level.PROBLEM
                        || (loginWanted && one.is(FindingKind.CLIENT_NOT_SERVED)))
            // Where the root is not at hand, the top of the chain stands for it.
            .filter(one -> rooted || !one.is(FindingKind.TRUST_WITHOUT_ROOT))
            .toList();
    if (refusalWanted) {
      // A refusal for want of a certificate is what is wanted; anything else is not.
      boolean wanting =
          problems.stream().anyMatch(one -> one.is(FindingKind.CLIENT_CERTIFICATE_REQUIRED));
      List<Finding> others =
          problems.stream()
              .filter(one -> !one.is(FindingKind.CLIENT_CERTIFICATE_REQUIRED))
              .toList();
      if (wanting && others.isEmpty()) {
        return new Answer(who, true, Optional.of(report), List.of());
      }
      return new Answer(
          who,
          false,
          Optional.of(report),
          others.isEmpty()
              ? List.of(
                  Finding.of(
                      FindingKind.SETTING_IGNORED,
                      Level.PROBLEM,
                      report.address(),
                      "The running server lets a client without a certificate in.",
                      "Look for a setting that overrules the new ones."))
              : others);
    }
    return new Answer(who, problems.isEmpty(), Optional.of(report), problems);
  }

  private List<Certificate> anchors() {
    List<Certificate> anchors = new ArrayList<>();
    clients.forEach(client -> client.trust().ifPresent(anchors::addAll));
    if (anchors.isEmpty()) {
      place.credentials().forEach(own -> anchors.add(own.chain().get(own.chain().size() - 1)));
    }
    return anchors;
  }

  /** Whether somebody listens at the address now. */
  boolean isListening() {
    Optional<Endpoint> endpoint = endpoint();
    if (endpoint.isEmpty()) {
      return false;
    }
    try (java.net.Socket socket = new java.net.Socket()) {
      socket.connect(
          new java.net.InetSocketAddress(endpoint.get().reachable(), endpoint.get().port()),
          (int) EACH.toMillis());
      return true;
    } catch (java.io.IOException e) {
      return false;
    }
  }

  /** The same, with patience. */
  boolean listensAgain() {
    long end = System.nanoTime() + patience.toNanos();
    while (!isListening()) {
      if (System.nanoTime() > end || !paused()) {
        return false;
      }
    }
    return true;
  }

  private static boolean paused() {
    try {
      Thread.sleep(PAUSE);
      return true;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    }
  }
}
