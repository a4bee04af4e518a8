// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.HostName;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;

class ChainTest {
  private static Chain find(Certificate end, Certificate... pool) {
    return new ChainFinder(List.of(pool), NOW, SystemRoots.none()).from(end);
  }

  private static List<String> ids(List<Finding> findings) {
    return findings.stream().map(Finding::id).toList();
  }

  @Test
  void aChainIsFoundInAnyOrder() {
    List<Certificate> pool =
        new ArrayList<>(
            List.of(root(), INGEST.certificate(), issuing(), CATALOGUE.certificate(), root()));
    for (int round = 0; round < 10; round++) {
      Collections.shuffle(pool);
      Chain chain = new ChainFinder(pool, NOW, SystemRoots.none()).from(INGEST.certificate());
      assertEquals(List.of(INGEST.certificate(), issuing(), root()), chain.certificates());
      assertTrue(chain.isComplete());
      assertEquals(List.of(INGEST.certificate(), issuing()), chain.withoutRoot());
    }
  }

  @Test
  void aMissingIssuerIsNamed() {
    Chain chain = find(INGEST.certificate(), root());
    assertFalse(chain.isComplete());
    assertEquals(issuing().subject(), chain.missingIssuer().orElseThrow());
    assertEquals(
        root().subject(), find(INGEST.certificate(), issuing()).missingIssuer().orElseThrow());
  }

  @Test
  void aSelfSignedCertificateIsAWholeChain() {
    var pair = KeyKind.EC_P256.generate(RANDOM);
    Certificate alone =
        CertificateBuilder.of(
                name("lab"), io.symbolon.key.SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(NOW, NOW.plus(YEAR))
            .endEntity()
            .signSelf(pair.getPrivate(), RANDOM);
    Chain chain = find(alone);
    assertTrue(chain.isComplete());
    assertEquals(List.of(alone), chain.withoutRoot());
  }

  @Test
  void anAuthorityOfTheSameNameWithAnotherKeyIsNotTaken() {
    Authority stranger =
        Authority.root(root().subject(), KeyKind.EC_P256, NOW, Duration.ofDays(9000), RANDOM);
    Chain chain = find(issuing(), stranger.certificate(), root());
    assertEquals(List.of(issuing(), root()), chain.certificates());
    assertFalse(find(issuing(), stranger.certificate()).isComplete());
  }

  @Test
  void aRenewedAuthorityIsPreferredToItsExpiredCertificate() {
    // The same name and key twice: once expired, once valid.
    Certificate expired =
        CertificateBuilder.of(issuing().subject(), issuing().publicKey())
            .validity(NOW.minus(Duration.ofDays(900)), NOW.minus(Duration.ofDays(1)))
            .authority(OptionalInt.of(0))
            .sign(root(), ROOT.credential().key().toPrivateKey(), RANDOM);
    assertEquals(
        issuing(), find(INGEST.certificate(), expired, root(), issuing()).certificates().get(1));
    assertEquals(
        issuing(), find(INGEST.certificate(), issuing(), root(), expired).certificates().get(1));
  }

  @Test
  void aCrossSignedAuthorityLeadsToTheRootThatIsThere() {
    Authority other = Authority.root(name("Other Root"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Certificate cross =
        CertificateBuilder.of(issuing().subject(), issuing().publicKey())
            .validity(NOW, NOW.plus(Duration.ofDays(3000)))
            .authority(OptionalInt.of(0))
            .sign(other.certificate(), other.credential().key().toPrivateKey(), RANDOM);
    Chain chain = find(INGEST.certificate(), cross, issuing(), root());
    assertEquals(List.of(INGEST.certificate(), issuing(), root()), chain.certificates());
    Chain viaOther = find(INGEST.certificate(), cross, issuing(), other.certificate());
    assertEquals(
        List.of(INGEST.certificate(), cross, other.certificate()), viaOther.certificates());
  }

  @Test
  void authoritiesThatSignEachOtherEndTheSearch() {
    Authority a = Authority.root(name("A"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Authority b = Authority.root(name("B"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Certificate aByB = cross(a, b);
    Certificate bByA = cross(b, a);
    Chain chain = find(aByB, bByA);
    assertFalse(chain.isComplete());
    assertEquals(List.of(aByB, bByA), chain.certificates());
  }

  private static Certificate cross(Authority subject, Authority issuer) {
    return CertificateBuilder.of(subject.certificate().subject(), subject.certificate().publicKey())
        .validity(NOW, NOW.plus(YEAR))
        .authority(OptionalInt.empty())
        .sign(issuer.certificate(), issuer.credential().key().toPrivateKey(), RANDOM);
  }

  @Test
  void authoritiesThatSignEachOtherInManyWaysDoNotMakeTheSearchExplode() {
    Authority a = Authority.root(name("A"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Authority b = Authority.root(name("B"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    List<Certificate> pool = new ArrayList<>();
    for (int i = 0; i < 20; i++) { // every A leads to every B and back, and none to a root
      pool.add(cross(a, b));
      pool.add(cross(b, a));
    }
    Certificate end =
        a.issue(name("x"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR).certificate();
    Chain chain =
        assertTimeoutPreemptively(
            Duration.ofMinutes(2), () -> new ChainFinder(pool, NOW, SystemRoots.none()).from(end));
    assertFalse(chain.isComplete());
    assertTrue(chain.certificates().size() > 2);
  }

  @Test
  void halvesThatDoNotFitAreNotJoined() {
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> Credential.of(INGEST.key(), List.of(CATALOGUE.certificate())));
    assertEquals(Reason.DOES_NOT_FIT, e.reason());
  }

  @Test
  void validityIsJudgedAtTheGivenMoment() {
    Certificate certificate = INGEST.certificate();
    assertEquals(List.of(), ids(new CertificateJudge(NOW).judge(certificate, "x")));
    assertEquals(List.of("expired"), at(certificate.notAfter().plusSeconds(1), certificate));
    assertEquals(
        List.of("not-yet-valid"), at(certificate.notBefore().minusSeconds(1), certificate));
    assertEquals(List.of("expires-soon"), at(certificate.notAfter(), certificate));
    assertEquals(
        List.of("expires-soon"),
        at(certificate.notAfter().minus(Duration.ofDays(29)), certificate));
    assertEquals(List.of(), at(certificate.notAfter().minus(Duration.ofDays(31)), certificate));
  }

  private static List<String> at(Instant now, Certificate certificate) {
    return ids(new CertificateJudge(now).judge(certificate, "x"));
  }

  @Test
  void aServerWithoutAlternativeNamesIsAProblemAndAClientIsNot() {
    Certificate server =
        CertificateBuilder.of(name("s"), CATALOGUE.certificate().publicKey())
            .validity(NOW, NOW.plus(YEAR))
            .endEntity()
            .extendedKeyUsage(Use.SERVER.purposes())
            .sign(issuing(), ISSUING.credential().key().toPrivateKey(), RANDOM);
    Certificate client =
        ISSUING.issue(name("c"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR).certificate();
    assertEquals(List.of("no-alternative-names"), at(NOW, server));
    assertEquals(List.of(), at(NOW, client));
  }

  @Test
  void aHostThatIsNotCoveredIsNamedWithWhatIs() {
    Finding finding =
        CertificateJudge.host(INGEST.certificate(), HostName.parse("other.example"), "x")
            .orElseThrow();
    assertTrue(finding.statement().contains("other.example"));
    assertTrue(finding.statement().contains("ingest.lanternfish.example"));
  }

  @Test
  void anIssuerThatIsNoAuthorityAndAPathTooLongAreFound() {
    Certificate below =
        CertificateBuilder.of(name("below"), CATALOGUE.certificate().publicKey())
            .validity(NOW, NOW.plus(YEAR))
            .sign(INGEST.certificate(), INGEST.key().toPrivateKey(), RANDOM);
    PathJudge judge = new PathJudge(List.of(), "x");
    Chain chain = find(below, INGEST.certificate(), issuing(), root());
    assertEquals(4, chain.certificates().size());
    assertEquals(
        List.of("issuer-is-no-authority", "issuer-may-not-sign", "path-too-long"),
        ids(judge.judge(chain.certificates())));
    assertEquals(List.of(), judge.judge(INGEST.chain()));
  }
}
