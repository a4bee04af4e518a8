// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import java.math.BigInteger;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.OptionalInt;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class CertificateTest {
  /** Everything we wrote, the platform reads the same; every kind of key is signed and verified. */
  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#kinds")
  void thePlatformReadsWhatWeBuild(KeyKind kind) throws Exception {
    Authority authority = Authority.root(name("Test Root"), kind, NOW, YEAR, RANDOM);
    Credential server =
        authority.issue(
            DistinguishedName.parse("CN=Ingest\\, 1+UID=i1,O=Lanternfish Observatory"),
            KeyKind.EC_P256,
            List.of(
                HostName.parse(HOST), HostName.parse("192.0.2.17"), HostName.parse("2001:db8::17")),
            Use.BOTH,
            NOW,
            YEAR);
    Certificate ours = server.certificate();
    X509Certificate theirs = ours.toX509Certificate();

    theirs.verify(authority.certificate().toX509Certificate().getPublicKey());
    theirs.checkValidity();
    assertEquals(ours.serial(), theirs.getSerialNumber());
    assertEquals(ours.notBefore(), theirs.getNotBefore().toInstant());
    assertEquals(ours.notAfter(), theirs.getNotAfter().toInstant());
    assertArrayEquals(ours.subject().encoding(), theirs.getSubjectX500Principal().getEncoded());
    assertArrayEquals(ours.issuer().encoding(), theirs.getIssuerX500Principal().getEncoded());
    assertArrayEquals(ours.publicKey().encoding(), theirs.getPublicKey().getEncoded());
    assertEquals(-1, theirs.getBasicConstraints());
    assertTrue(theirs.getKeyUsage()[0]);
    assertFalse(theirs.getKeyUsage()[5]);
    assertEquals(
        List.of(Oids.SERVER_AUTH.toString(), Oids.CLIENT_AUTH.toString()),
        theirs.getExtendedKeyUsage());
    assertEquals(3, theirs.getSubjectAlternativeNames().size());
    assertEquals(
        List.of(HOST, "192.0.2.17", "2001:db8::17"),
        ours.alternativeNames().stream().map(GeneralName::value).toList());
    assertEquals(
        Set.of(Oids.BASIC_CONSTRAINTS.toString(), Oids.KEY_USAGE.toString()),
        theirs.getCriticalExtensionOIDs());
    assertEquals(SignatureAlgorithm.Validity.VALID, ours.verify(authority.certificate()));
    assertEquals(SignatureAlgorithm.Validity.INVALID, ours.verify(root()));
    assertArrayEquals(ours.encoding(), Certificate.of(theirs).encoding());
    assertTrue(ours.extensions().damaged().isEmpty());
    assertArrayEquals(
        authority.certificate().extensions().subjectKeyIdentifier().orElseThrow(),
        ours.extensions().authorityKeyIdentifier().orElseThrow());
  }

  @Test
  void anAuthorityIsOneAndAnEndEntityIsNot() {
    assertTrue(root().isAuthority());
    assertTrue(root().isSelfIssued());
    assertEquals(
        OptionalInt.of(0), issuing().extensions().basicConstraints().orElseThrow().pathLength());
    assertEquals(
        EnumSet.of(KeyUsage.CERTIFICATE_SIGNING, KeyUsage.CRL_SIGNING),
        issuing().extensions().keyUsage().orElseThrow());
    assertEquals(0, issuing().toX509Certificate().getBasicConstraints());
  }

  @Test
  void noCertificateOutlivesItsIssuer() {
    Certificate certificate =
        ISSUING
            .issue(name("long"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, Duration.ofDays(9999))
            .certificate();
    assertEquals(issuing().notAfter(), certificate.notAfter());
    assertFalse(certificate.notBefore().isBefore(issuing().notBefore()));
  }

  @Test
  void serialNumbersAreLargePositiveAndDifferent() {
    Set<BigInteger> serials = new HashSet<>();
    int longest = 0;
    boolean clear = false;
    for (int i = 0; i < 40; i++) {
      BigInteger serial =
          CertificateBuilder.of(name("x"), issuing().publicKey())
              .validity(NOW, NOW.plus(YEAR))
              .sign(
                  root(),
                  io.symbolon.fixture.Lanternfish.ROOT.credential().key().toPrivateKey(),
                  RANDOM)
              .serial();
      assertTrue(serial.signum() > 0 && serial.bitLength() <= 159);
      longest = Math.max(longest, serial.bitLength());
      clear |= !serial.testBit(158);
      assertTrue(serials.add(serial));
    }
    assertTrue(longest > 140, "most of the 159 bits are used");
    assertTrue(clear, "the highest bit is as random as the others");
  }

  @Test
  void aCertificateCutAnywhereIsRefused() {
    byte[] der = issuing().encoding();
    for (int length = 0; length < der.length; length++) {
      byte[] cut = Arrays.copyOf(der, length);
      assertThrows(SymbolonException.class, () -> Certificate.read(cut));
    }
  }

  /** Whatever changes, reading ends in a certificate or the one exception; signatures never lie. */
  @Test
  void changedBytesNeverVerifyAndNeverCrash() {
    byte[] der = issuing().encoding();
    Random random = new Random(11);
    int read = 0;
    for (int round = 0; round < 3_000; round++) {
      byte[] changed = der.clone();
      int at = random.nextInt(changed.length);
      byte value = (byte) random.nextInt();
      if (changed[at] == value) {
        continue;
      }
      changed[at] = value;
      try {
        Certificate certificate = Certificate.read(changed);
        String shown = certificate.subject().toString() + certificate.publicKey().description();
        assertFalse(shown.isEmpty());
        assertTrue(
            certificate.alternativeNames().size() + certificate.extensions().damaged().size()
                < 100);
        read++;
        if (round % 20 == 0) {
          assertFalse(
              certificate.verify(root()) == SignatureAlgorithm.Validity.VALID, "byte " + at);
        }
      } catch (SymbolonException expected) {
        assertFalse(expected.seen().isEmpty());
      }
    }
    assertTrue(read > 500, "most changes leave a readable structure");
  }

  @Test
  void theRootsOfThePlatformAreReadLikeThePlatformReadsThem() {
    int count = 0;
    for (Certificate ours : io.symbolon.chain.SystemRoots.ofPlatform().all()) {
      X509Certificate theirs = ours.toX509Certificate();
      assertEquals(theirs.getSerialNumber(), ours.serial());
      assertEquals(theirs.getNotAfter().toInstant(), ours.notAfter());
      assertEquals(
          theirs.getSubjectX500Principal(),
          new javax.security.auth.x500.X500Principal(ours.subject().encoding()));
      assertTrue(ours.isAuthority(), ours.subject().toString());
      assertEquals(
          theirs.getSubjectX500Principal().equals(theirs.getIssuerX500Principal()),
          ours.isSelfIssued());
      assertTrue(ours.extensions().damaged().isEmpty(), ours.subject().toString());
      count++;
    }
    assertTrue(count > 20, "a Java comes with roots, here " + count);
  }
}
