// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Side;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Authority;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Party;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.math.BigInteger;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * What is said of servers of other kinds. The expected answers are what these servers did when they
 * were started with such files (docs/testing.md).
 */
class OtherServersTest {
  private static final Credential SHOWN =
      Credential.of(INGEST.key(), List.of(INGEST.certificate(), issuing()));
  private static final Party SERVER = Party.of("ingest", "ingest.p12", SHOWN);
  private static final Party MUTUAL = SERVER.withTrust(List.of(root()));
  private static final Party NOBODY = Party.nobody("browser").withTrust(List.of(root()));
  private static final Credential OF_ROOT = client(ROOT, Use.CLIENT);
  private static final Credential BUOY = client(ISSUING, Use.CLIENT);
  private static final Rehearsal REHEARSAL = Rehearsal.create().withHost(HostName.parse(HOST));

  private static Credential client(Authority by, Use use) {
    return by.issue(
        name("buoy-017"),
        KeyKind.EC_P256,
        List.of(HostName.parse("buoy-017.lanternfish.example")),
        use,
        NOW,
        YEAR);
  }

  private static Party client(Credential credential) {
    return Party.of("buoy", "buoy.p12", credential).withTrust(List.of(root()));
  }

  private static OtherServer of(RehearsalReport report, ServerKind kind) {
    return told(report, kind).orElseThrow(() -> new AssertionError(kind + " in " + report));
  }

  private static Optional<OtherServer> told(RehearsalReport report, ServerKind kind) {
    return report.others().stream().filter(other -> other.kind().equals(kind)).findFirst();
  }

  private static Set<ServerKind> accepting(RehearsalReport report) {
    return report.others().stream()
        .filter(OtherServer::accepts)
        .map(OtherServer::kind)
        .collect(Collectors.toSet());
  }

  @Test
  void withGoodFilesEveryKindAcceptsAndNothingMoreIsSaid() {
    RehearsalReport report = REHEARSAL.run(SERVER, NOBODY);
    assertEquals(tried(), accepting(report));
    assertTrue(report.others().stream().allMatch(other -> other.why().isEmpty()));
    assertTrue(report.others().stream().allMatch(other -> other.setting().isEmpty()));
  }

  @ParameterizedTest
  @CsvSource({
    "SEALED_KEY, nginx, refused with the usual settings, ssl_password_file FILE",
    "SEALED_KEY, httpd, refused with the usual settings, SSLPassPhraseDialog exec:PROGRAM",
    "SEALED_KEY, haproxy, it does not start, ''",
    "SEALED_KEY, postfix, it starts without TLS, ''",
    "SEALED_KEY, dovecot, refused with the usual settings, ssl_key_password",
    "OWN_KEY_PASSWORD, jetty, refused with the usual settings,"
        + " jetty.sslContext.keyManagerPassword",
    "GLUED_CHAIN, nginx, it does not start, ''",
    "GLUED_CHAIN, dovecot, 'it starts, and every handshake fails', ''",
    "GLUED_TRUST, mariadb, it does not start, ''",
  })
  void aTraitOfTheFilesStopsTheServersThatItStopped(
      Party.Trait trait, String word, String does, String setting) {
    RehearsalReport report = REHEARSAL.run(SERVER.withTraits(Set.of(trait)), NOBODY);
    OtherServer other = of(report, kind(word));
    assertFalse(other.accepts());
    assertTrue(other.why().orElseThrow().startsWith(does + ", because "), other.toString());
    assertEquals(setting, other.setting().orElse(""));
  }

  @Test
  void aServerThatWasNotTriedWithSomethingIsNotSpokenOf() {
    RehearsalReport report =
        REHEARSAL.run(SERVER.withTraits(Set.of(Party.Trait.OWN_KEY_PASSWORD)), NOBODY);
    assertEquals(
        Set.of(kind("tomcat"), kind("jetty")),
        report.others().stream().map(OtherServer::kind).collect(Collectors.toSet()));
  }

  @Test
  void ofSeveralTraitsTheWorstIsTold() {
    Party server =
        SERVER
            .withTraits(Set.of(Party.Trait.SEALED_KEY))
            .withMoreTraits(Set.of(Party.Trait.GLUED_CHAIN));
    OtherServer nginx = of(REHEARSAL.run(server, NOBODY), kind("nginx"));
    assertTrue(nginx.why().orElseThrow().contains("glued"), nginx.toString());
    assertEquals(Optional.empty(), nginx.setting());
    OtherServer glued =
        of(
            REHEARSAL.run(SERVER.withTraits(Set.of(Party.Trait.GLUED_CHAIN)), NOBODY),
            kind("openldap"));
    assertTrue(glued.accepts());
    assertTrue(glued.why().orElseThrow().startsWith("accepted all the same: "), glued.toString());
  }

  @Test
  void aChainThatBeginsWithAnotherCertificateIsAFindingThatNamesTheServers() {
    Set<Party.Trait> first = Set.of(Party.Trait.OTHER_CERTIFICATE_FIRST);
    Finding otherKind = first(REHEARSAL.run(SERVER.withTraits(first), NOBODY));
    assertTrue(
        otherKind.statement().contains("nginx, Redis, Dovecot start, and fail every handshake"));
    assertTrue(otherKind.statement().contains("Postfix: no TLS"), otherKind.statement());
    Credential ec = Lanternfish.server(HOST, KeyKind.EC_P256);
    Party sameKind = Party.of("x", "x.pem", ec).withTraits(first);
    RehearsalReport report = REHEARSAL.run(sameKind, NOBODY);
    assertTrue(
        first(report).statement().contains("nginx, Apache httpd, HAProxy, Mosquitto, OpenLDAP"));
    assertTrue(of(report, kind("nginx")).why().orElseThrow().startsWith("it does not start"));
    assertEquals(Optional.empty(), told(report, kind("redis")), "was not tried with these");
  }

  private static Finding first(RehearsalReport report) {
    return report.findings().stream()
        .filter(finding -> finding.is(FindingKind.OTHER_CERTIFICATE_FIRST))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void theDepthThatAServerNeedsIsCounted() {
    RehearsalReport flat = REHEARSAL.run(MUTUAL, client(OF_ROOT));
    assertEquals(tried(), accepting(flat));
    RehearsalReport one = REHEARSAL.run(MUTUAL, client(BUOY));
    assertEquals("SSLVerifyDepth 2", of(one, kind("httpd")).setting().orElseThrow());
    assertTrue(of(one, kind("nginx")).accepts());
    AuthorityPlan upper = AuthorityPlan.of(name("Upper"), KeyKind.EC_P256, Lifetime.days(1000));
    Authority second =
        ROOT.intermediate(upper, NOW)
            .intermediate(name("Second"), KeyKind.EC_P256, NOW, Duration.ofDays(900));
    RehearsalReport two = REHEARSAL.run(MUTUAL, client(client(second, Use.CLIENT)));
    assertTrue(two.isAccepted(), two.toString());
    assertEquals("SSLVerifyDepth 3", of(two, kind("httpd")).setting().orElseThrow());
    assertEquals("ssl_verify_depth 3", of(two, kind("nginx")).setting().orElseThrow());
    assertTrue(of(two, kind("haproxy")).accepts());
  }

  @Test
  void aClientWithAServersCertificateIsRefusedByAllButOne() {
    RehearsalReport report = REHEARSAL.run(MUTUAL, client(client(ROOT, Use.SERVER)));
    assertEquals(RehearsalReport.Verdict.REFUSED, report.verdict());
    assertEquals(Set.of(kind("openldap")), accepting(report));
    assertEquals(
        "this client is refused, because the client's certificate is not for clients",
        of(report, kind("postgresql")).why().orElseThrow());
  }

  @Test
  void anIntermediateThatTheServerTrustsIsAddedBySome() {
    Party bare =
        Party.of("ingest", "ingest.pem", Credential.of(INGEST.key(), List.of(INGEST.certificate())))
            .withTrust(List.of(issuing(), root()));
    RehearsalReport report = REHEARSAL.run(bare, client(OF_ROOT));
    assertEquals(
        Set.of(
            kind("httpd"),
            kind("mosquitto"),
            kind("redis"),
            kind("openldap"),
            kind("postfix"),
            kind("dovecot"),
            kind("postgresql"),
            kind("mariadb")),
        accepting(report));
    assertTrue(of(report, kind("tomcat")).why().orElseThrow().startsWith("clients refuse it"));
    // Without it among the trusted, nobody can add it: nothing is known that is better.
    assertEquals(
        List.of(), REHEARSAL.run(bare.withTrust(List.of(root())), client(OF_ROOT)).others());
  }

  @Test
  void trustWithoutTheRootIsEnoughForJavaAndTooLittleForMost() {
    RehearsalReport report = REHEARSAL.run(SERVER.withTrust(List.of(issuing())), client(BUOY));
    assertTrue(report.tries().stream().allMatch(RehearsalReport.Try::isAccepted));
    assertTrue(of(report, kind("jetty")).accepts());
    assertTrue(of(report, kind("openldap")).accepts());
    assertTrue(of(report, kind("nginx")).why().orElseThrow().startsWith("every client is refused"));
  }

  private static RevocationList list(Authority by, Instant from, Credential... revoked) {
    return by.revocationList(
        Arrays.stream(revoked)
            .map(
                one ->
                    new Authority.Revocation(
                        one.certificate().serial(), from, RevocationReason.SUPERSEDED))
            .toList(),
        BigInteger.ONE,
        from,
        Lifetime.days(1));
  }

  private static RehearsalReport listed(List<Certificate> trust, RevocationList... lists) {
    return REHEARSAL
        .withRevocationLists(Side.SERVER, List.of(lists))
        .run(SERVER.withTrust(trust), client(BUOY));
  }

  @Test
  void aRevokedClientIsRefusedByAllThatCanBeGivenLists() {
    RehearsalReport report = listed(List.of(root()), list(ROOT, NOW), list(ISSUING, NOW, BUOY));
    assertEquals(RehearsalReport.Verdict.ACCEPTED_BY_JAVA_ALONE, report.verdict());
    assertTrue(report.findings().stream().anyMatch(one -> one.is(FindingKind.REVOKED)));
    assertEquals(Set.of(kind("redis"), kind("postfix")), accepting(report));
    RehearsalReport fine = listed(List.of(root()), list(ROOT, NOW), list(ISSUING, NOW));
    assertTrue(fine.isAccepted(), fine.toString());
  }

  @Test
  void aMissingListStopsEveryClientOfMostServers() {
    Set<ServerKind> blind =
        Set.of(kind("mosquitto"), kind("openldap"), kind("redis"), kind("postfix"));
    assertEquals(blind, accepting(listed(List.of(root()), list(ISSUING, NOW))));
    // Java's path ends at an authority that is trusted itself: no list above it is asked for.
    Set<ServerKind> withJava = new HashSet<>(blind);
    withJava.addAll(Set.of(kind("tomcat"), kind("jetty")));
    assertEquals(withJava, accepting(listed(List.of(issuing(), root()), list(ISSUING, NOW))));
    assertEquals(
        blind,
        accepting(listed(List.of(issuing(), root()), list(ROOT, NOW))),
        "its own is missing");
  }

  @Test
  void aListThatIsOutOfDateStopsEveryClient() {
    Instant old = NOW.minus(Duration.ofDays(2));
    RehearsalReport report = listed(List.of(root()), list(ROOT, NOW), list(ISSUING, old));
    assertEquals(Set.of(kind("openldap"), kind("redis"), kind("postfix")), accepting(report));
    assertTrue(
        of(report, kind("mariadb"))
            .why()
            .orElseThrow()
            .equals("every client is refused, because a revocation list is out of date"));
  }

  private static ServerKind kind(String word) {
    return ServerKind.named(word).orElseThrow();
  }

  /** Those that any rule names. */
  private static Set<ServerKind> tried() {
    return ServerRules.SHIPPED.rules().stream()
        .flatMap(rule -> rule.servers().stream())
        .collect(java.util.stream.Collectors.toSet());
  }
}
