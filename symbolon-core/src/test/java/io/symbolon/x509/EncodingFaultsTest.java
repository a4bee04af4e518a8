// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.fixture.Forge;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.key.KeyKind;
import io.symbolon.oid.Oid;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import java.math.BigInteger;
import java.nio.file.Path;
import java.security.PrivateKey;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Certificates as they exist, with faults that Java and others let pass, and with others. */
class EncodingFaultsTest {
  private static final Credential SERVER = Lanternfish.server(HOST, KeyKind.RSA_2048);
  private static final PrivateKey ISSUER = ISSUING.credential().key().toPrivateKey();
  private static final byte[] ECDSA = Der.sequence(Der.oid(Oids.ECDSA_SHA256));

  @TempDir Path folder;

  private static byte[] constraints(String value) {
    return Der.sequence(
        Der.oid(Oids.BASIC_CONSTRAINTS),
        HexFormat.of().parseHex("010101"), // critical, as some write it
        Der.octets(HexFormat.of().parseHex(value)));
  }

  private static byte[] signed(byte[] inner, byte[] outer, byte[]... extensions) {
    return Forge.signed(
        Forge.tbs(SERVER.certificate(), inner, extensions), outer, "SHA256withECDSA", null, ISSUER);
  }

  /** The same key, with the modulus as some devices write it. */
  private static byte[] withoutZero() {
    byte[] plain = SERVER.certificate().publicKey().encoding();
    Cursor key = Element.read(plain).cursor();
    byte[] algorithm = key.next().encoding();
    Cursor numbers = key.next().bitsAsElement().cursor();
    byte[] modulus = numbers.next().content();
    byte[] exponent = numbers.next().encoding();
    assertEquals(0, modulus[0]);
    byte[] cut = Arrays.copyOfRange(modulus, 1, modulus.length);
    return Der.sequence(
        algorithm, Der.bits(Der.sequence(Der.integer(new BigInteger(cut)), exponent)));
  }

  private static byte[] withKey(byte[] key) {
    Cursor like = Element.read(Forge.tbs(SERVER.certificate(), ECDSA)).cursor();
    List<byte[]> fields = new ArrayList<>();
    for (int i = 0; i < 5; i++) {
      fields.add(like.next().encoding());
    }
    fields.add(key);
    return Forge.signed(Der.sequence(fields), ECDSA, "SHA256withECDSA", null, ISSUER);
  }

  private static void readByBoth(byte[] der, String fault, boolean authority) {
    Certificate certificate = Certificate.readWhole(der);
    assertEquals(1, certificate.encodingFaults().size(), certificate.encodingFaults().toString());
    assertTrue(certificate.encodingFaults().get(0).contains(fault));
    assertEquals(authority, certificate.isAuthority());
    assertEquals(SignatureAlgorithm.Validity.VALID, certificate.verify(issuing()));
    assertEquals(authority, certificate.toX509Certificate().getBasicConstraints() >= 0);
  }

  @Test
  void whatOthersLetPassIsReadAndTold() {
    readByBoth(signed(ECDSA, ECDSA, constraints("30030101ff")), "BOOLEAN", true);
    readByBoth(signed(ECDSA, ECDSA, constraints("3003010101")), "BOOLEAN", true);
    byte[] nul = Der.sequence(Der.oid(Oids.ECDSA_SHA256), Der.nul());
    readByBoth(signed(nul, ECDSA), "NULL", false);
    readByBoth(signed(ECDSA, nul), "NULL", false);
    byte[] more =
        Der.sequence(
            Der.oid(Oids.BASIC_CONSTRAINTS),
            Der.octets(HexFormat.of().parseHex("30090101ff020100020111")));
    readByBoth(signed(ECDSA, ECDSA, more), "Behind", true);
    assertEquals(List.of(), SERVER.certificate().encodingFaults());
    assertEquals(List.of(), issuing().encodingFaults());
  }

  @ParameterizedTest
  @ValueSource(strings = {"0101", "300201ff", "3006010100020180", "30040102ffff"})
  void whatIsDamagedStaysSo(String value) {
    Certificate certificate = Certificate.read(signed(ECDSA, ECDSA, constraints(value)));
    assertEquals(List.of(Oids.BASIC_CONSTRAINTS), certificate.extensions().damaged());
    assertTrue(!certificate.isAuthority());
  }

  @Test
  void twoAlgorithmsAreNoFaultButAnAttack() {
    byte[] other = Der.sequence(Der.oid(Oid.of("1.2.840.10045.4.3.3")));
    assertThrows(SymbolonException.class, () -> Certificate.read(signed(other, ECDSA)));
    byte[] parameters = Der.sequence(Der.oid(Oids.ECDSA_SHA256), Der.integer(17));
    assertThrows(SymbolonException.class, () -> Certificate.read(signed(ECDSA, parameters)));
  }

  @Test
  void aModulusWithoutItsZeroIsStillTheKeyItIs() {
    byte[] der = withKey(withoutZero());
    Certificate certificate = Certificate.read(der);
    assertEquals("RSA 2048", certificate.publicKey().description());
    assertTrue(certificate.encodingFaults().get(0).contains("modulus"));
    assertEquals(SERVER.certificate().keyId(), certificate.keyId());
    file(folder, "server.key", keyPem(SERVER));
    file(folder, "server.crt", der);
    Survey survey = Surveyor.create().survey(List.of(folder));
    assertEquals(1, survey.matches().size());
    assertEquals(List.of(certificate), survey.matches().get(0).certificates());
    List<String> ids = survey.findings().stream().map(Finding::id).toList();
    assertTrue(ids.contains("encoding-fault"), ids.toString());
    assertTrue(!ids.contains("key-does-not-fit"), ids.toString());
  }
}
