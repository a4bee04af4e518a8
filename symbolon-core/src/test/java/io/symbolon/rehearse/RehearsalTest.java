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
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.fixture.TlsParties;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Party;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class RehearsalTest {
  private static final Party SERVER =
      Party.of(
          "ingest",
          "ingest.p12",
          Credential.of(INGEST.key(), List.of(INGEST.certificate(), issuing())));
  private static final Party CLIENT = Party.nobody("buoy").withTrust(List.of(root()));

  private static final Rehearsal REHEARSAL = Rehearsal.create().withHost(HostName.parse(HOST));

  private static List<String> ids(RehearsalReport report) {
    return report.findings().stream()
        .map(f -> f.id())
        .filter(id -> !id.equals("not-known-to-systems")) // true of every authority of ours
        .toList();
  }

  @Test
  void aGoodPairAcceptsEachOtherInEveryVersion() {
    RehearsalReport report = REHEARSAL.run(SERVER, CLIENT);
    assertTrue(report.isAccepted(), report.toString());
    assertEquals(List.of(), ids(report));
  }

  @Test
  void aMissingIntermediateIsTold() {
    Party bare = Party.of("x", "x.p12", Credential.of(INGEST.key(), List.of(INGEST.certificate())));
    RehearsalReport report = REHEARSAL.run(bare, CLIENT);
    assertEquals(List.of("issuer-not-sent"), ids(report), report.toString());
  }

  @Test
  void validityIsJudgedAtTheMomentThatIsGiven() {
    Certificate end = INGEST.certificate();
    assertEquals(
        List.of("expired"), ids(REHEARSAL.at(end.notAfter().plusSeconds(60)).run(SERVER, CLIENT)));
    assertTrue(REHEARSAL.at(NOW.plusSeconds(3600)).run(SERVER, CLIENT).isAccepted());
  }

  private static final Party MUTUAL = SERVER.withTrust(List.of(root()));
  private static final Party STRANGER =
      Party.of("stranger", "stranger.p12", selfSigned("stranger")).withTrust(List.of(root()));

  /** From an authority of its own, of which nobody knows. */
  private static Credential selfSigned(String commonName) {
    return Authority.root(name("Elsewhere"), KeyKind.EC_P256, NOW, YEAR, Lanternfish.RANDOM)
        .issue(name(commonName), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
  }

  private static Party buoy(int number) {
    Credential issued =
        ISSUING.issue(name("buoy-" + number), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    return Party.of(
            "buoy-" + number,
            "buoy-" + number + ".p12",
            Credential.of(issued.key(), List.of(issued.certificate(), issuing())))
        .withTrust(List.of(root()));
  }

  @Test
  void aServerThatOnlyAsksLetsAClientWithoutCertificateIn() {
    Rehearsal optional = REHEARSAL.withOptionalClients();
    RehearsalReport refused = REHEARSAL.run(MUTUAL, CLIENT);
    assertEquals(List.of("no-client-certificate"), ids(refused));
    assertEquals(RehearsalReport.Verdict.REFUSED, refused.verdict());
    Finding none = refused.findings().get(0);
    assertEquals(CLIENT.where(), none.where());
    assertTrue(none.remedy().toString().contains("Lanternfish Root"), none.toString());
    assertTrue(optional.run(MUTUAL, CLIENT).isAccepted());
    assertTrue(optional.run(MUTUAL, buoy(17)).isAccepted());
    // Each setting is kept when another is made.
    Rehearsal more = optional.withHost(HostName.parse(HOST)).withProtocols(Rehearsal.PROTOCOLS);
    assertTrue(more.at(NOW.plusSeconds(60)).run(MUTUAL, CLIENT).isAccepted());
    assertTrue(more.withRevocationLists(Side.SERVER, List.of()).run(MUTUAL, CLIENT).isAccepted());
  }

  @Test
  void aClientOfAForeignAuthorityShowsNothingAndIsToldWhatTheServerAsksFor() {
    RehearsalReport report = REHEARSAL.run(MUTUAL, STRANGER);
    Finding finding =
        report.findings().stream()
            .filter(one -> one.is(FindingKind.CLIENT_AUTHORITY_NOT_NAMED))
            .findFirst()
            .orElseThrow();
    assertEquals("stranger.p12", finding.where());
    assertTrue(finding.statement().contains("CN=Elsewhere"), finding.statement());
    assertTrue(finding.statement().endsWith("only for certificates of Lanternfish Root."));
    for (RehearsalReport.Try one : report.tries()) {
      assertEquals(Optional.of(Side.SERVER), one.refusedBy());
      assertTrue(!one.raw().isEmpty());
    }
    List<Certificate> many = new ArrayList<>();
    for (int i = 0; i < 7; i++) {
      many.add(
          Authority.root(name("Root " + i), KeyKind.EC_P256, NOW, YEAR, Lanternfish.RANDOM)
              .certificate());
    }
    String asked = REHEARSAL.run(SERVER.withTrust(many), STRANGER).findings().get(0).statement();
    assertTrue(asked.endsWith("Root 3, Root 4 and 2 more."), asked);
  }

  @Test
  void theProtocolVersionsThatAreAskedForAreRehearsed() {
    Rehearsal older = REHEARSAL.withProtocols(List.of(ProtocolVersion.TLS_1_2));
    RehearsalReport report = older.run(MUTUAL, buoy(1));
    assertEquals(
        List.of(ProtocolVersion.TLS_1_2),
        report.tries().stream().map(RehearsalReport.Try::protocol).toList());
    assertTrue(report.tries().get(0).cipherSuite().orElseThrow().startsWith("TLS_ECDHE_RSA_"));
    assertEquals(
        List.of(ProtocolVersion.TLS_1_3, ProtocolVersion.TLS_1_2),
        REHEARSAL.run(MUTUAL, buoy(1)).tries().stream()
            .map(RehearsalReport.Try::protocol)
            .toList());
  }

  @Test
  void whatWasNotCheckedIsSaid() {
    RehearsalReport bare =
        Rehearsal.create().run(SERVER, Party.of("buoy", "buoy.p12", buoy(1).credential().get()));
    assertTrue(bare.tries().stream().allMatch(RehearsalReport.Try::isAccepted));
    assertTrue(
        ids(bare)
            .containsAll(
                List.of("trust-not-checked", "host-not-checked", "client-certificate-not-asked")),
        bare.toString());
    assertEquals(List.of(), ids(REHEARSAL.run(MUTUAL, buoy(1))));
  }

  @Test
  void whatIsJudgedWithoutAHandshakeSaysTheSame() {
    Party bare = Party.of("x", "x.p12", Credential.of(INGEST.key(), List.of(INGEST.certificate())));
    RehearsalReport report = REHEARSAL.judge(bare, CLIENT);
    assertEquals(List.of(), report.tries());
    assertEquals(List.of("issuer-not-sent"), ids(report));
  }

  @Test
  void aServerWithoutCredentialIsACallersMistake() {
    assertThrows(IllegalArgumentException.class, () -> REHEARSAL.run(CLIENT, CLIENT));
  }

  @Test
  void aTrustOfNothingIsTold() {
    RehearsalReport report = REHEARSAL.run(SERVER, CLIENT.withTrust(List.of()));
    assertTrue(ids(report).contains("trust-empty"), report.toString());
    assertEquals(RehearsalReport.Verdict.REFUSED, report.verdict());
  }

  @Test
  void aListGivenToOneSideJudgesTheOtherAlone() {
    Party client = buoy(9);
    RevocationList list =
        ISSUING.revocationList(
            List.of(
                new Authority.Revocation(
                    client.chain().get(0).serial(), NOW, RevocationReason.KEY_COMPROMISE)),
            BigInteger.ONE,
            NOW,
            Lifetime.days(7));
    RevocationList ofRoot = ROOT.revocationList(List.of(), BigInteger.ONE, NOW, Lifetime.days(7));
    Rehearsal judging = REHEARSAL.withRevocationLists(Side.SERVER, List.of(list, ofRoot));
    RehearsalReport report = judging.run(MUTUAL, client);
    assertEquals(RehearsalReport.Verdict.ACCEPTED_BY_JAVA_ALONE, report.verdict());
    assertEquals(List.of("revoked"), ids(report));
    assertTrue(
        REHEARSAL
            .withRevocationLists(Side.CLIENT, List.of(list, ofRoot))
            .run(MUTUAL, client)
            .isAccepted());
  }

  @Test
  void allPairsAreRehearsedAndCounted() {
    Party foreign = Party.of("foreign", "foreign.p12", selfSigned("x")).withTrust(List.of(root()));
    RehearsedPairs pairs =
        REHEARSAL.all(List.of(MUTUAL, foreign), List.of(buoy(1), STRANGER), false, List.of());
    assertEquals(4, pairs.reports().size());
    assertEquals(1, pairs.accepted());
    assertFalse(pairs.isAccepted());
    assertEquals("stranger", pairs.report(0, 1).client());
    assertEquals("foreign", pairs.report(1, 0).server());
    assertTrue(pairs.report(0, 0).isAccepted());
    assertEquals(List.of(), pairs.findings());
    Finding problem = Finding.of(FindingKind.TRUST_EMPTY, "x", "There is nothing.", "Add one.");
    assertTrue(REHEARSAL.all(List.of(MUTUAL), List.of(buoy(1)), false, List.of()).isAccepted());
    assertFalse(
        REHEARSAL.all(List.of(MUTUAL), List.of(buoy(1)), false, List.of(problem)).isAccepted());
    assertThrows(
        IllegalArgumentException.class,
        () -> new RehearsedPairs(List.of(MUTUAL), List.of(CLIENT), List.of(), List.of()));
  }

  @Test
  void ofVeryManyPairsMostAreDeducedAndThatIsSaid() {
    Rehearsal quick = REHEARSAL.withProtocols(List.of(ProtocolVersion.TLS_1_3));
    Party good = buoy(1);
    List<Party> clients = new ArrayList<>(Collections.nCopies(Rehearsal.MANY, good));
    RehearsedPairs each = quick.all(List.of(MUTUAL), clients.subList(0, 3), false, List.of());
    assertEquals(List.of(), each.findings());
    clients.set(7, STRANGER);
    clients.add(good);
    RehearsedPairs pairs = quick.all(List.of(MUTUAL), clients, false, List.of());
    assertEquals(
        List.of(FindingKind.PAIRS_DEDUCED), pairs.findings().stream().map(Finding::kind).toList());
    assertTrue(pairs.findings().get(0).statement().startsWith("There are 401 pairs."));
    assertEquals(400, pairs.accepted());
    assertFalse(pairs.report(0, 7).isAccepted());
    assertTrue(pairs.report(0, 400).isAccepted());
  }

  /** What the platform refuses for its own reasons, beside what is wrong with the certificates. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "server: a weak key",
        "server: signed with MD5",
        "server: expired",
        "server: self-signed",
        "server: a host not permitted",
        "server: another host",
        "server: twelve certificates",
        "client: of an authority of the same name",
        "client: key usage without signing",
      })
  void whyAPairIsRefusedIsSaidOnceAndIsNotGuessed(String what) {
    TlsParties setup =
        TlsParties.all().stream().filter(one -> one.what().equals(what)).findFirst().orElseThrow();
    RehearsalReport report =
        Rehearsal.create()
            .withHost(HostName.parse(setup.host()))
            .run(setup.server(), setup.client());
    List<String> problems =
        report.findings().stream()
            .filter(one -> one.level() == Level.PROBLEM)
            .map(Finding::id)
            .toList();
    assertTrue(problems.contains(setup.finding().orElseThrow()), report.toString());
    assertFalse(problems.contains("refused-by-platform"), report.toString());
    assertEquals(Set.copyOf(problems).size(), problems.size(), report.toString());
    assertEquals(RehearsalReport.Verdict.REFUSED, report.verdict());
    for (int i = 1; i < report.findings().size(); i++) {
      assertTrue(
          report.findings().get(i - 1).level().compareTo(report.findings().get(i).level()) <= 0,
          "the worst first: " + report);
    }
  }

  @Test
  void aSmallMatrixWithBadSidesFirstIsDeducedAsItIs() {
    Party bare = Party.of("x", "x.p12", Credential.of(INGEST.key(), List.of(INGEST.certificate())));
    List<Party> servers =
        List.of(bare.withTrust(List.of(root())), SERVER, MUTUAL, MUTUAL.withTrust(List.of()));
    List<Party> clients =
        List.of(STRANGER, CLIENT, CLIENT.withTrust(List.of(issuing())), buoy(3), buoy(4));
    List<RehearsalReport> each = REHEARSAL.matrix(servers, clients);
    List<RehearsalReport> deduced = REHEARSAL.deducedMatrix(servers, clients);
    assertEquals(20, each.size());
    for (int i = 0; i < each.size(); i++) {
      assertEquals(each.get(i).verdict(), deduced.get(i).verdict(), each.get(i).toString());
      assertEquals(ids(each.get(i)), ids(deduced.get(i)));
      for (int t = 0; t < 2; t++) {
        assertEquals(
            each.get(i).tries().get(t).refusedBy(), deduced.get(i).tries().get(t).refusedBy());
      }
    }
    assertEquals(RehearsalReport.Verdict.ACCEPTED, each.get(13).verdict(), "MUTUAL with buoy 3");
  }
}
