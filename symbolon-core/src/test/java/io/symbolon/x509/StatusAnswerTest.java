// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import io.symbolon.x509.StatusResponse.Status;
import java.math.BigInteger;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Questions about revocation, and their answers. */
class StatusAnswerTest {
  private static final Oid SHA1 = Oid.of("1.3.14.3.2.26");
  private static final Oid SHA256 = Oid.of("2.16.840.1.101.3.4.2.1");
  private static final Oid NONCE = Oid.of("1.3.6.1.5.5.7.48.1.2");
  private static final byte[] RANDOM = Der.octets(new byte[] {7, 7, 7, 7, 7, 7, 7, 7});

  private static byte[] id(Oid digest, Certificate issuer, BigInteger serial)
      throws GeneralSecurityException {
    MessageDigest sha = MessageDigest.getInstance(digest.equals(SHA1) ? "SHA-1" : "SHA-256");
    return Der.sequence(
        Der.sequence(Der.oid(digest), Der.nul()),
        Der.octets(sha.digest(issuer.subject().encoding())),
        Der.octets(sha.digest(issuer.publicKey().keyOctets())),
        Der.integer(serial));
  }

  private static byte[] question(byte[]... ids) {
    List<byte[]> requests = Arrays.stream(ids).map(id -> Der.sequence(id)).toList();
    return Der.sequence(
        Der.sequence(
            Der.sequence(requests),
            Der.context(2, Der.sequence(Der.sequence(Der.oid(NONCE), Der.octets(RANDOM))))));
  }

  @Test
  void eachCertificateThatIsAskedAboutIsAnswered() throws GeneralSecurityException {
    Instant from = NOW.truncatedTo(ChronoUnit.SECONDS);
    BigInteger other = BigInteger.valueOf(4711);
    BigInteger third = BigInteger.valueOf(815);
    byte[] der =
        question(
            id(SHA1, issuing(), INGEST.certificate().serial()),
            id(SHA256, issuing(), other),
            id(SHA256, issuing(), third));
    StatusQuestion asked = StatusQuestion.read(der);
    assertEquals(3, asked.asked().size());
    assertTrue(asked.hasNonce());
    assertTrue(asked.asked().stream().allMatch(one -> one.issuer().is(issuing())));
    assertFalse(asked.asked().get(0).issuer().is(root()));
    StatusAnswer answer = StatusAnswer.of(issuing(), from, from.plusSeconds(3600));
    answer.good(asked.asked().get(0));
    answer.revoked(asked.asked().get(1), from.minusSeconds(9), RevocationReason.KEY_COMPROMISE);
    answer.unknown(asked.asked().get(2));
    byte[] encoding = answer.sign(asked, ISSUING.credential().key().toPrivateKey());
    StatusResponse read = StatusResponse.read(encoding);
    assertEquals(Validity.VALID, read.verify(issuing()));
    assertEquals(Status.GOOD, read.about(INGEST.certificate(), issuing()).orElseThrow().status());
    assertEquals(
        List.of(Status.GOOD, Status.REVOKED, Status.UNKNOWN),
        read.all().stream().map(StatusResponse.Single::status).toList());
    assertEquals(from.minusSeconds(9), read.all().get(1).revokedAt().orElseThrow());
    assertTrue(
        Collections.indexOfSubList(boxed(encoding), boxed(RANDOM)) > 0, "the nonce comes back");
  }

  private static List<Byte> boxed(byte[] octets) {
    List<Byte> all = new ArrayList<>();
    for (byte one : octets) {
      all.add(one);
    }
    return all;
  }

  @Test
  void whatIsNoQuestionIsRefused() throws GeneralSecurityException {
    byte[] good = question(id(SHA256, issuing(), BigInteger.TEN));
    for (int length = 0; length < good.length; length++) {
      byte[] cut = Arrays.copyOf(good, length);
      assertThrows(SymbolonException.class, () -> StatusQuestion.read(cut));
    }
    byte[] none = Der.sequence(Der.sequence(Der.sequence(List.of())));
    assertThrows(SymbolonException.class, () -> StatusQuestion.read(none));
    byte[][] many = new byte[StatusQuestion.MOST + 1][];
    Arrays.fill(many, id(SHA256, issuing(), BigInteger.TEN));
    assertThrows(SymbolonException.class, () -> StatusQuestion.read(question(many)));
    byte[] second =
        Der.sequence(
            Der.sequence(
                Der.context(0, Der.integer(1)),
                Der.sequence(Der.sequence(id(SHA256, issuing(), BigInteger.TEN)))));
    assertThrows(SymbolonException.class, () -> StatusQuestion.read(second), "another version");
    byte[] strange =
        Der.sequence(
            Der.sequence(Der.oid(Oid.of("1.2.3"))),
            Der.octets(new byte[20]),
            Der.octets(new byte[20]),
            Der.integer(BigInteger.TEN));
    assertFalse(StatusQuestion.read(question(strange)).asked().get(0).issuer().is(issuing()));
  }
}
