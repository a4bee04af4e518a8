// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.name;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.NameConstraints;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import io.symbolon.x509.SignatureAlgorithm;
import java.io.ByteArrayInputStream;
import java.math.BigInteger;
import java.security.cert.CertPathValidator;
import java.security.cert.CertPathValidatorException;
import java.security.cert.CertStore;
import java.security.cert.CertificateFactory;
import java.security.cert.CollectionCertStoreParameters;
import java.security.cert.PKIXParameters;
import java.security.cert.TrustAnchor;
import java.security.cert.X509CRL;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Date;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class AuthorityTest {
  private static final Lifetime DAYS_397 = Lifetime.days(397);

  private static AuthorityPlan founding(String commonName) {
    return AuthorityPlan.of(name(commonName), KeyKind.EC_P256, Lifetime.years(10));
  }

  private static SigningOrder order(String commonName, Use use, String... hosts) {
    List<GeneralName> names = Arrays.stream(hosts).map(GeneralName::ofHost).toList();
    return new SigningOrder(RequestDraft.of(name(commonName), names, use), DAYS_397);
  }

  /** The platform's path check, with revocation lists where they are given. */
  private static void checkPath(List<Certificate> chain, Instant at, RevocationList... lists)
      throws Exception {
    CertificateFactory factory = CertificateFactory.getInstance("X.509");
    X509Certificate root = chain.get(chain.size() - 1).toX509Certificate();
    PKIXParameters parameters = new PKIXParameters(Set.of(new TrustAnchor(root, null)));
    parameters.setRevocationEnabled(lists.length > 0);
    parameters.setDate(Date.from(at));
    List<Object> crls = new java.util.ArrayList<>();
    for (RevocationList list : lists) {
      crls.add(factory.generateCRL(new ByteArrayInputStream(list.encoding())));
    }
    parameters.addCertStore(
        CertStore.getInstance("Collection", new CollectionCertStoreParameters(crls)));
    List<X509Certificate> path =
        chain.subList(0, chain.size() - 1).stream().map(Certificate::toX509Certificate).toList();
    CertPathValidator.getInstance("PKIX").validate(factory.generateCertPath(path), parameters);
  }

  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#kinds")
  void thePlatformTakesWhatAnAuthorityOfEveryKindIssues(KeyKind kind) throws Exception {
    Authority root =
        Authority.root(AuthorityPlan.of(name("Root"), kind, Lifetime.years(10)), NOW, RANDOM);
    Authority below =
        root.intermediate(AuthorityPlan.of(name("Below"), kind, Lifetime.years(5)), NOW);
    Credential server =
        below.issue(order("a.lanternfish.example", Use.SERVER, "192.0.2.17"), kind, NOW);
    RevocationList empty = root.revocationList(List.of(), BigInteger.ONE, NOW, DAYS_397);
    RevocationList mine = below.revocationList(List.of(), BigInteger.ONE, NOW, DAYS_397);
    checkPath(server.chain(), NOW, empty, mine);
    assertEquals(SignatureAlgorithm.Validity.VALID, mine.verify(below.certificate()));
    assertEquals(SignatureAlgorithm.Validity.INVALID, mine.verify(root.certificate()));
  }

  @Test
  void anEndEntityCertificateSaysAllThatItShould() throws Exception {
    Authority root = Authority.root(founding("Root"), NOW, RANDOM);
    Certificate one =
        root.issue(order("a.lanternfish.example", Use.SERVER), KeyKind.RSA_2048, NOW).certificate();
    X509Certificate theirs = one.toX509Certificate();
    assertEquals(-1, theirs.getBasicConstraints());
    assertTrue(theirs.getCriticalExtensionOIDs().containsAll(Set.of("2.5.29.19", "2.5.29.15")));
    assertEquals(List.of("1.3.6.1.5.5.7.3.1"), theirs.getExtendedKeyUsage());
    assertTrue(theirs.getNonCriticalExtensionOIDs().containsAll(Set.of("2.5.29.14", "2.5.29.35")));
    assertEquals(1, theirs.getSubjectAlternativeNames().size());
    assertTrue(one.serial().bitLength() > 100 && one.serial().bitLength() <= 159);
    assertEquals(
        NOW.minus(Duration.ofMinutes(10)).getEpochSecond(), one.notBefore().getEpochSecond());
    assertFalse(one.notBefore().isBefore(root.certificate().notBefore()));
  }

  @Test
  void nothingOutlivesItsIssuerAndThatIsSaid() {
    Authority root = Authority.root(founding("Root"), NOW.minus(Duration.ofDays(3640)), RANDOM);
    SigningOrder order = order("a.lanternfish.example", Use.SERVER);
    assertEquals(
        List.of("lifetime-cut"), root.judge(order, NOW, "x").stream().map(Finding::id).toList());
    assertEquals(
        root.certificate().notAfter(),
        root.issue(order, KeyKind.EC_P256, NOW).certificate().notAfter());
    SymbolonException e =
        assertThrows(
            SymbolonException.class, () -> root.issue(order, KeyKind.EC_P256, NOW.plus(YEAR)));
    assertTrue(e.statement().contains("can't sign now"), e.statement());
  }

  @Test
  void pathLengthsAreKeptAllTheWayDown() throws Exception {
    Authority root = Authority.root(founding("Root").withPathLength(2), NOW, RANDOM);
    Authority a = root.intermediate(founding("A"), NOW);
    Authority b = a.intermediate(founding("B").withPathLength(9), NOW);
    assertEquals(1, a.certificate().toX509Certificate().getBasicConstraints());
    assertEquals(0, b.certificate().toX509Certificate().getBasicConstraints());
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> b.intermediate(founding("C"), NOW));
    assertEquals(Reason.INVALID_ARGUMENT, e.reason());
    checkPath(b.issue(order("c", Use.CLIENT), KeyKind.EC_P256, NOW).chain(), NOW);
  }

  private static Authority constrained() {
    return Authority.root(founding("Root"), NOW, RANDOM)
        .intermediate(
            founding("Constrained")
                .with(
                    new NameConstraints(
                        List.of(
                            NameConstraints.Area.parse("lanternfish.example"),
                            NameConstraints.Area.parse("192.0.2.0/25"),
                            NameConstraints.Area.parse("2001:db8::/32")),
                        List.of(NameConstraints.Area.parse(".deep.lanternfish.example")))),
            NOW);
  }

  /**
   * What the platform would accept, and what stands for an excluded host or address all the same.
   */
  @ParameterizedTest
  @CsvSource({
    "DNS, *.lanternfish.example",
    "DNS, deep.lanternfish.example.",
    "DNS, 192.0.2.200",
    "DNS, ::ffff:192.0.2.200",
    "IP, ::ffff:192.0.2.200",
    "DNS, *.example",
    "URI, javascript:alert(1)",
    "URI, https://a.lanternfish.example/\u0000x",
    "EMAIL, a\u001B[31m@lanternfish.example",
  })
  void whatGoesAroundAConstraintOrWouldActOnAReaderIsNotSigned(
      GeneralName.NameForm kind, String value) {
    SigningOrder order =
        new SigningOrder(
            new RequestDraft(
                DistinguishedName.parse("O=Lanternfish"),
                List.of(GeneralName.ofHost("lanternfish.example"), new GeneralName(kind, value)),
                Use.SERVER),
            DAYS_397);
    Authority authority = constrained();
    assertFalse(authority.judge(order, NOW, "x").isEmpty());
    assertThrows(SymbolonException.class, () -> authority.issue(order, KeyKind.EC_P256, NOW));
  }

  /** Moduli that are no product of two large primes, or of two that lie side by side. */
  @Test
  void brokenKeysAreNotSigned() {
    java.math.BigInteger p = java.math.BigInteger.probablePrime(1024, RANDOM);
    java.math.BigInteger near = p.nextProbablePrime();
    java.math.BigInteger far = java.math.BigInteger.probablePrime(1024, RANDOM);
    java.math.BigInteger e = java.math.BigInteger.valueOf(65537);
    java.math.BigInteger good = p.multiply(far);
    java.util.Map<java.math.BigInteger, java.math.BigInteger> broken = new java.util.HashMap<>();
    broken.put(good.shiftLeft(1), e);
    broken.put(java.math.BigInteger.probablePrime(2048, RANDOM), e);
    broken.put(good.multiply(java.math.BigInteger.valueOf(7)), e);
    broken.put(p.multiply(near), e);
    broken.put(good, java.math.BigInteger.ONE);
    broken.put(far.multiply(near), java.math.BigInteger.TWO);
    Authority root = Authority.root(founding("Root"), NOW, RANDOM);
    broken.forEach(
        (modulus, exponent) -> {
          SubjectPublicKeyInfo key =
              SubjectPublicKeyInfo.ofRsaPublicKey(
                  io.symbolon.der.Element.read(
                      io.symbolon.der.Der.sequence(
                          io.symbolon.der.Der.integer(modulus),
                          io.symbolon.der.Der.integer(exponent))));
          assertTrue(key.defect().isPresent(), modulus + " " + exponent);
          assertThrows(
              SymbolonException.class,
              () -> root.sign(order("a.lanternfish.example", Use.SERVER), key, NOW));
        });
  }

  /** What we refuse to sign is what the platform would refuse to accept. */
  @ParameterizedTest
  @CsvSource({
    "lanternfish.example, true, O=Lanternfish",
    "a.b.lanternfish.example, true, O=Lanternfish",
    "*.a.lanternfish.example, true, O=Lanternfish",
    "192.0.2.17, true, O=Lanternfish",
    "2001:db8::17, true, O=Lanternfish",
    "other.example, false, O=Lanternfish",
    "notlanternfish.example, false, O=Lanternfish",
    "deep.lanternfish.example, false, O=Lanternfish",
    "x.deep.lanternfish.example, false, O=Lanternfish",
    "192.0.2.200, false, O=Lanternfish",
    "2001:db9::17, false, O=Lanternfish",
    "192.0.2.17, false, CN=buoy-017",
    "192.0.2.17, true, CN=Buoy 017",
    "a.lanternfish.example, true, CN=buoy-017",
    "a.lanternfish.example, false, CN=198.51.100.1",
  })
  void constraintsOnHostsAreJudgedAsThePlatformDoes(String host, boolean permitted, String subject)
      throws Exception {
    Authority authority = constrained();
    SigningOrder order =
        new SigningOrder(
            new RequestDraft(
                DistinguishedName.parse(subject), List.of(GeneralName.ofHost(host)), Use.SERVER),
            DAYS_397);
    List<String> ids = authority.judge(order, NOW, "x").stream().map(Finding::id).toList();
    assertEquals(permitted ? List.of() : List.of("name-not-permitted"), ids);
    if (!permitted) {
      assertThrows(SymbolonException.class, () -> authority.issue(order, KeyKind.EC_P256, NOW));
    }
    var pair = KeyKind.EC_P256.generate(RANDOM);
    Certificate forced =
        io.symbolon.x509.CertificateBuilder.of(
                order.draft().subject(), SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(NOW, NOW.plus(YEAR))
            .endEntity()
            .alternativeNames(order.draft().names())
            .sign(authority.certificate(), authority.credential().key().toPrivateKey(), RANDOM);
    if (permitted) {
      checkPath(authority.chainOf(forced), NOW);
    } else {
      assertThrows(
          CertPathValidatorException.class, () -> checkPath(authority.chainOf(forced), NOW));
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "*.x.example", "192.0.2.1/24", "192.0.2.0/33", "x.example/8", "a b"})
  void whatIsNoSetOfHostsIsRefused(String text) {
    assertThrows(SymbolonException.class, () -> NameConstraints.Area.parse(text));
  }

  @Test
  void whatIsRevokedThePlatformRefusesAndNothingElse() throws Exception {
    Authority root = Authority.root(founding("Root"), NOW, RANDOM);
    Credential kept = root.issue(order("kept", Use.CLIENT), KeyKind.EC_P256, NOW);
    Credential lost = root.issue(order("lost", Use.CLIENT), KeyKind.EC_P256, NOW);
    Instant when = Instant.ofEpochSecond(NOW.getEpochSecond());
    RevocationList list =
        root.revocationList(
            List.of(
                new Authority.Revocation(
                    lost.certificate().serial(), when, RevocationReason.KEY_COMPROMISE)),
            BigInteger.valueOf(7),
            NOW,
            Lifetime.days(90));
    checkPath(kept.chain(), NOW, list);
    CertPathValidatorException e =
        assertThrows(CertPathValidatorException.class, () -> checkPath(lost.chain(), NOW, list));
    assertEquals(CertPathValidatorException.BasicReason.REVOKED, e.getReason());
    X509CRL theirs =
        (X509CRL)
            CertificateFactory.getInstance("X.509")
                .generateCRL(new ByteArrayInputStream(list.encoding()));
    assertEquals(
        java.security.cert.CRLReason.KEY_COMPROMISE,
        theirs.getRevokedCertificate(lost.certificate().serial()).getRevocationReason());
    assertEquals(
        Date.from(when), theirs.getRevokedCertificates().iterator().next().getRevocationDate());
    assertEquals(BigInteger.valueOf(7), list.extensions().listNumber().orElseThrow());
    assertEquals(
        RevocationReason.KEY_COMPROMISE,
        list.revoked(9).get(0).extensions().revocationReason().orElseThrow());
  }

  @Test
  void anAuthorityWithABadSubjectOrAnEndEntityOneIsNone() {
    Authority root = Authority.root(founding("Root"), NOW, RANDOM);
    Credential end = root.issue(order("x", Use.CLIENT), KeyKind.EC_P256, NOW);
    assertEquals(
        Reason.DOES_NOT_FIT,
        assertThrows(SymbolonException.class, () -> Authority.of(end, RANDOM)).reason());
    DistinguishedName strange = DistinguishedName.parse("CN=a\\00b");
    SigningOrder order =
        new SigningOrder(new RequestDraft(strange, List.of(), Use.CLIENT), DAYS_397);
    assertThrows(SymbolonException.class, () -> root.issue(order, KeyKind.EC_P256, NOW));
  }
}
