// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.nio.charset.StandardCharsets;
import java.security.spec.AlgorithmParameterSpec;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import javax.crypto.Cipher;
import javax.crypto.SecretKeyFactory;
import javax.crypto.spec.IvParameterSpec;
import javax.crypto.spec.PBEKeySpec;
import javax.crypto.spec.PBEParameterSpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class SealTest {
  private static final byte[] CONTENT =
      "seventeen buoys reporting".getBytes(StandardCharsets.UTF_8);

  @ParameterizedTest
  @CsvSource({
    // RFC 6070, and the same inputs with SHA-256
    "HmacSHA1, password, salt, 1, 20, 0c60c80f961f0e71f3a9b524af6012062fe037a6",
    "HmacSHA1, password, salt, 4096, 20, 4b007901b765489abead49d926f721d065a429c1",
    "HmacSHA1, passwordPASSWORDpassword, saltSALTsaltSALTsaltSALTsaltSALTsalt, 4096, 25,"
        + " 3d2eec4fe41c849b80c8d83662c0e44a8b291a964cf2f07038",
    "HmacSHA256, password, salt, 1, 32,"
        + " 120fb6cffcf8b32c43e7225256c4f837a86548c92ccc35480805987cb70be17b",
  })
  void pbkdf2AgreesWithItsTestVectors(
      String hmac, String password, String salt, int rounds, int length, String expected) {
    byte[] derived =
        Pbkdf2.derive(
            hmac,
            password.getBytes(StandardCharsets.UTF_8),
            salt.getBytes(StandardCharsets.UTF_8),
            rounds,
            length);
    assertEquals(expected.strip(), HexFormat.of().formatHex(derived));
  }

  /** The platform knows these schemes by name: what it seals we open, and what we seal it opens. */
  @ParameterizedTest
  @CsvSource({
    "PBEWithMD5AndDES, 1.2.840.113549.1.5.3",
    "PBEWithSHA1AndDESede, 1.2.840.113549.1.12.1.3",
    "PBEWithSHA1AndRC2_40, 1.2.840.113549.1.12.1.6",
    "PBEWithSHA1AndRC2_128, 1.2.840.113549.1.12.1.5",
    "PBEWithSHA1AndRC4_128, 1.2.840.113549.1.12.1.1",
    "PBEWithSHA1AndRC4_40, 1.2.840.113549.1.12.1.2",
  })
  void olderSchemesAgreeWithThePlatform(String name, String oid) throws Exception {
    byte[] salt = {1, 2, 3, 4, 5, 6, 7, 8};
    byte[] parameters = Der.sequence(Der.octets(salt), Der.integer(1000));
    byte[] identifier = Der.sequence(Der.oid(Oid.of(oid)), parameters);
    Protection ours = Protection.read(Element.read(identifier));
    Cipher cipher = Cipher.getInstance(name);
    var key =
        SecretKeyFactory.getInstance(name).generateSecret(new PBEKeySpec("geheim".toCharArray()));
    AlgorithmParameterSpec spec = new PBEParameterSpec(salt, 1000);

    cipher.init(Cipher.ENCRYPT_MODE, key, spec);
    assertArrayEquals(CONTENT, ours.open(cipher.doFinal(CONTENT), secret("geheim")).orElseThrow());
    cipher.init(Cipher.DECRYPT_MODE, key, spec);
    assertArrayEquals(CONTENT, cipher.doFinal(ours.seal(CONTENT, secret("geheim"))));
    assertTrue(ours.isWeak());
    assertArrayEquals(identifier, ours.encoding());
  }

  /** Every scheme of PBES2 that the platform has, whatever they are on this Java. */
  @Test
  void pbes2AgreesWithThePlatform() throws Exception {
    List<String> names =
        java.security.Security.getAlgorithms("SecretKeyFactory").stream()
            .filter(
                name -> name.toUpperCase(java.util.Locale.ROOT).matches("PBEWITHHMACSHA.*AES_\\d+"))
            .toList();
    assertTrue(names.size() >= 10, names.toString());
    for (String name : names) {
      Cipher cipher = Cipher.getInstance(name);
      byte[] iv = new byte[16];
      cipher.init(
          Cipher.ENCRYPT_MODE,
          SecretKeyFactory.getInstance(name).generateSecret(new PBEKeySpec("geheim".toCharArray())),
          new PBEParameterSpec(new byte[16], 2048, new IvParameterSpec(iv)));
      byte[] sealed = cipher.doFinal(CONTENT);
      byte[] parameters = cipher.getParameters().getEncoded();
      boolean whole = Element.read(parameters).cursor().next().isOid(Oids.PBES2);
      Protection ours =
          Protection.read(
              Element.read(whole ? parameters : Der.sequence(Der.oid(Oids.PBES2), parameters)));
      assertArrayEquals(CONTENT, ours.open(sealed, secret("geheim")).orElseThrow(), name);
      assertFalse(ours.isWeak());
      assertEquals(2048, ours.rounds());
    }
  }

  @Test
  void theStrongSchemeOpensOnlyWithItsPassword() {
    Protection strong = Protection.strong(RANDOM, 1000);
    byte[] sealed = strong.seal(CONTENT, secret("geheim"));
    assertArrayEquals(CONTENT, strong.open(sealed, secret("geheim")).orElseThrow());
    Protection read = Protection.read(Element.read(strong.encoding()));
    assertArrayEquals(CONTENT, read.open(sealed, secret("geheim")).orElseThrow());
    int opened = 0;
    for (int i = 0; i < 50; i++) {
      Optional<byte[]> wrong = strong.open(sealed, secret("wrong" + i));
      opened += wrong.filter(b -> java.util.Arrays.equals(b, CONTENT)).isPresent() ? 1 : 0;
    }
    assertEquals(0, opened);
    assertEquals("PBES2, AES-256-CBC, PBKDF2-HMAC-SHA-256", strong.description());
  }

  @ParameterizedTest
  @ValueSource(longs = {2_000_000_000L, 0, -1, 5_000_001})
  void roundsThatWouldTakeForeverAreRefusedAtOnce(long rounds) {
    byte[] derivation =
        Der.sequence(
            Der.oid(Oids.PBKDF2), Der.sequence(Der.octets(new byte[8]), Der.integer(rounds)));
    byte[] identifier =
        Der.sequence(
            Der.oid(Oids.PBES2),
            Der.sequence(
                derivation, Der.sequence(Der.oid(Oids.AES256_CBC), Der.octets(new byte[16]))));
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> Protection.read(Element.read(identifier)));
    assertEquals(Reason.LIMIT_PASSED, e.reason());
    assertTrue(e.seen().contains(Long.toString(rounds)), e.seen());
  }

  @Test
  void anUnknownSchemeIsNamed() {
    byte[] identifier = Der.sequence(Der.oid(Oid.of("1.2.3.4")), Der.nul());
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> Protection.read(Element.read(identifier)));
    assertEquals(Reason.UNSUPPORTED, e.reason());
    assertTrue(e.seen().contains("1.2.3.4"));
  }

  @Test
  void theMacTellsTheRightPasswordAndTheRightContent() {
    PasswordMac mac =
        PasswordMac.over(CONTENT, secret("geheim"), RANDOM, 1000, PasswordMac.Scheme.SHA256);
    PasswordMac read = PasswordMac.read(Element.read(mac.encoding()));
    assertTrue(read.matches(CONTENT, secret("geheim")));
    assertFalse(read.matches(CONTENT, secret("Geheim")));
    assertFalse(read.matches(new byte[3], secret("geheim")));
  }

  @Test
  void aSecretShowsNothingAndIsWiped() {
    Secret secret = secret("geheim");
    assertEquals("Secret(file=pass.txt)", secret.toString());
    assertArrayEquals("geheim".toCharArray(), secret.reveal());
    secret.close();
    assertThrows(IllegalStateException.class, secret::reveal);
  }
}
