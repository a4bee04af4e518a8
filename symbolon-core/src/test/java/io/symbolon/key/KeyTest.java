// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.seal.Protection;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.spec.ECGenParameterSpec;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class KeyTest {
  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#kinds")
  void aKeyOfThePlatformIsReadAndFitsItsOtherHalfOnly(KeyKind kind) {
    KeyPair pair = kind.generate(RANDOM);
    KeyPair other = kind.generate(RANDOM);
    PrivateKeyInfo key = PrivateKeyInfo.readPkcs8(pair.getPrivate().getEncoded());
    SubjectPublicKeyInfo half = SubjectPublicKeyInfo.of(pair.getPublic());

    assertEquals(Fit.FITS, Fit.of(key, half));
    assertEquals(Fit.DOES_NOT_FIT, Fit.of(key, SubjectPublicKeyInfo.of(other.getPublic())));
    assertEquals(pair.getPrivate(), key.toPrivateKey());
    assertEquals(pair.getPublic(), half.toPublicKey());
    assertEquals("PrivateKeyInfo(" + key.description() + ")", key.toString());
    key.publicHalf().ifPresent(own -> assertEquals(half.keyId(), own.keyId()));
  }

  @Test
  void keysOfDifferentAlgorithmsDoNotFit() {
    PrivateKeyInfo ec = PrivateKeyInfo.of(KeyKind.EC_P256.generate(RANDOM).getPrivate());
    var p384 = SubjectPublicKeyInfo.of(KeyKind.EC_P384.generate(RANDOM).getPublic());
    var rsa = SubjectPublicKeyInfo.of(KeyKind.RSA_2048.generate(RANDOM).getPublic());
    assertEquals(Fit.DOES_NOT_FIT, Fit.of(ec, p384));
    assertEquals(Fit.DOES_NOT_FIT, Fit.of(ec, rsa));
  }

  @ParameterizedTest
  @ValueSource(strings = {"X25519", "Ed448", "DSA", "RSASSA-PSS"})
  void otherAlgorithmsOfThePlatformFitAsWell(String algorithm) throws Exception {
    KeyPairGenerator generator = KeyPairGenerator.getInstance(algorithm);
    if (algorithm.equals("RSASSA-PSS") || algorithm.equals("DSA")) {
      generator.initialize(2048);
    }
    KeyPair pair = generator.generateKeyPair();
    PrivateKeyInfo key = PrivateKeyInfo.of(pair.getPrivate());
    assertEquals(Fit.FITS, Fit.of(key, SubjectPublicKeyInfo.of(pair.getPublic())));
    assertEquals(
        Fit.DOES_NOT_FIT,
        Fit.of(key, SubjectPublicKeyInfo.of(generator.generateKeyPair().getPublic())));
  }

  /** The inner structure of a PKCS#8 key is the file of the older form. */
  private static byte[] inner(KeyPair pair) {
    Cursor cursor = Element.read(pair.getPrivate().getEncoded()).cursor();
    cursor.skip();
    cursor.skip();
    return cursor.next().octets();
  }

  @Test
  void pkcs1IsTheSameKey() {
    KeyPair pair = KeyKind.RSA_2048.generate(RANDOM);
    PrivateKeyInfo key = PrivateKeyInfo.readPkcs1(inner(pair));
    assertEquals(KeyForm.PKCS1, key.form());
    assertEquals(pair.getPrivate(), key.toPrivateKey());
    assertArrayEquals(pair.getPrivate().getEncoded(), key.revealPkcs8());
    assertEquals("RSA 2048", key.description());
  }

  @ParameterizedTest
  @EnumSource(
      value = KeyKind.class,
      names = {"EC_P256", "EC_P384", "EC_P521"})
  void sec1IsTheSameKey(KeyKind kind) {
    KeyPair pair = kind.generate(RANDOM);
    SubjectPublicKeyInfo half = SubjectPublicKeyInfo.of(pair.getPublic());
    Element scalar = sec1Scalar(pair);
    byte[] curve = Der.context(0, Der.oid(half.algorithm().curve().orElseThrow()));
    byte[] point = Der.context(1, Der.bits(half.keyOctets()));

    PrivateKeyInfo whole =
        PrivateKeyInfo.readSec1(Der.sequence(Der.integer(1), scalar.encoding(), curve, point));
    assertEquals(half.keyId(), whole.publicHalf().orElseThrow().keyId());
    assertEquals(Fit.FITS, Fit.of(whole, half));

    PrivateKeyInfo without =
        PrivateKeyInfo.readSec1(Der.sequence(Der.integer(1), scalar.encoding(), curve));
    assertTrue(without.publicHalf().isEmpty());
    assertEquals(Fit.FITS, Fit.of(without, half));

    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> PrivateKeyInfo.readSec1(Der.sequence(Der.integer(1), scalar.encoding())));
    assertTrue(e.seen().contains("which curve"), e.seen());
  }

  private static Element sec1Scalar(KeyPair pair) {
    Cursor cursor = Element.read(inner(pair)).cursor();
    cursor.skip();
    return cursor.next();
  }

  @Test
  void version2OfPkcs8CarriesThePublicHalf() {
    KeyPair pair = KeyKind.ED25519.generate(RANDOM);
    SubjectPublicKeyInfo half = SubjectPublicKeyInfo.of(pair.getPublic());
    Cursor cursor = Element.read(pair.getPrivate().getEncoded()).cursor();
    cursor.skip();
    byte[] identifier = cursor.next().encoding();
    byte[] octets = cursor.next().encoding();
    byte[] bits = Der.bits(half.keyOctets());
    byte[] implicit = Element.read(bits).content();
    byte[] v2 = Der.sequence(Der.integer(1), identifier, octets, Der.contextPrimitive(1, implicit));
    PrivateKeyInfo key = PrivateKeyInfo.readPkcs8(v2);
    assertEquals(half.keyId(), key.publicHalf().orElseThrow().keyId());
    assertEquals(Fit.FITS, Fit.of(key, half), "Java 17 does not read version 2 itself");
  }

  @Test
  void aSealedKeyOpensWithItsPasswordOnly() {
    PrivateKeyInfo key = PrivateKeyInfo.of(KeyKind.EC_P256.generate(RANDOM).getPrivate());
    EncryptedPrivateKeyInfo sealed =
        EncryptedPrivateKeyInfo.seal(key, Protection.strong(RANDOM, 1000), secret("geheim"));
    EncryptedPrivateKeyInfo read = EncryptedPrivateKeyInfo.read(Element.read(sealed.encoding()));
    assertArrayEquals(key.revealPkcs8(), read.open(secret("geheim")).orElseThrow().revealPkcs8());
    for (int i = 0; i < 300; i++) { // some wrong passwords leave a padding that looks right
      assertTrue(read.open(secret("wrong" + i)).isEmpty());
    }
  }

  @Test
  void weakKeysAreCalledWeak() throws Exception {
    KeyPairGenerator rsa = KeyPairGenerator.getInstance("RSA");
    rsa.initialize(1024);
    var weak = SubjectPublicKeyInfo.of(rsa.generateKeyPair().getPublic());
    assertTrue(weak.weakness().orElseThrow().contains("1024"));
    assertEquals("RSA 1024", weak.description());
    var strong = SubjectPublicKeyInfo.of(KeyKind.EC_P256.generate(RANDOM).getPublic());
    assertTrue(strong.weakness().isEmpty());
  }

  @Test
  void aRareCurveIsNamedAlthoughJavaLacksIt() {
    byte[] spki =
        Der.sequence(
            Der.sequence(Der.oid(Oids.EC), Der.oid(Oids.BRAINPOOL_P256R1)), Der.bits(new byte[65]));
    SubjectPublicKeyInfo key = SubjectPublicKeyInfo.read(spki);
    assertEquals("EC brainpoolP256r1", key.description());
    assertThrows(SymbolonException.class, key::toPublicKey);
  }

  @Test
  void changedBytesOfAKeyGiveTheOneException() throws Exception {
    KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
    generator.initialize(new ECGenParameterSpec("secp256r1"));
    byte[] pkcs8 = generator.generateKeyPair().getPrivate().getEncoded();
    Random random = new Random(3);
    for (int round = 0; round < 5_000; round++) {
      byte[] changed =
          Arrays.copyOf(
              pkcs8, random.nextInt(4) == 0 ? random.nextInt(pkcs8.length) : pkcs8.length);
      if (changed.length > 0) {
        changed[random.nextInt(changed.length)] = (byte) random.nextInt();
      }
      for (byte[] input : List.of(changed)) {
        try {
          PrivateKeyInfo.readPkcs8(input).toPrivateKey();
        } catch (SymbolonException expected) {
          assertFalse(expected.seen().isEmpty());
        }
      }
    }
  }

  /** Keys on curves as Java writes them carry no public half; it is computed all the same. */
  @ParameterizedTest
  @EnumSource(
      value = KeyKind.class,
      names = {"EC_P256", "EC_P384", "EC_P521", "ED25519", "ED448"})
  void thePublicHalfOfAKeyOnACurveIsComputed(KeyKind kind) {
    for (int i = 0; i < 20; i++) { // small numbers and leading zeros come by chance
      KeyPair pair = kind.generate(RANDOM);
      PrivateKeyInfo key = PrivateKeyInfo.of(pair.getPrivate());
      assertEquals(
          SubjectPublicKeyInfo.of(pair.getPublic()), key.computedPublicHalf().orElseThrow());
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"X25519", "X448"})
  void soIsThatOfAKeyForAgreement(String algorithm) throws Exception {
    KeyPair pair = java.security.KeyPairGenerator.getInstance(algorithm).generateKeyPair();
    PrivateKeyInfo key = PrivateKeyInfo.of(pair.getPrivate());
    assertEquals(SubjectPublicKeyInfo.of(pair.getPublic()), key.computedPublicHalf().orElseThrow());
  }
}
