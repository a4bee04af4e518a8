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
import io.symbolon.limit.Limits;
import io.symbolon.limit.WorkBudget;
import io.symbolon.oid.Oid;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import javax.crypto.Cipher;
import javax.crypto.Mac;
import javax.crypto.SecretKeyFactory;
import javax.crypto.spec.IvParameterSpec;
import javax.crypto.spec.PBEKeySpec;
import javax.crypto.spec.PBEParameterSpec;
import javax.crypto.spec.RC2ParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Each way in which a key lies under a password, against the platform's own primitives. */
class KeyProtectionsTest {
  private static final byte[] KEY =
      "the octets of a PrivateKeyInfo, longer than one block of the digest"
          .getBytes(StandardCharsets.UTF_8);
  private static final byte[] SALT = HexFormat.of().parseHex("0102030405060708");

  /** RFC 8018, 5.2 by hand: not every platform has all of its digests. */
  private static byte[] pbkdf2(String hmac, int rounds, int octets)
      throws GeneralSecurityException {
    Mac mac = Mac.getInstance(hmac);
    mac.init(new SecretKeySpec("geheim".getBytes(StandardCharsets.UTF_8), hmac));
    byte[] derived = new byte[0];
    for (byte block = 1; derived.length < octets; block++) {
      byte[] u = mac.doFinal(concat(SALT, new byte[] {0, 0, 0, block}));
      byte[] sum = u.clone();
      for (int round = 1; round < rounds; round++) {
        u = mac.doFinal(u);
        for (int i = 0; i < sum.length; i++) {
          sum[i] ^= u[i];
        }
      }
      derived = concat(derived, sum);
    }
    return Arrays.copyOf(derived, octets);
  }

  private static byte[] derivation(Object... more) {
    byte[][] parts = new byte[2 + more.length][];
    parts[0] = Der.octets(SALT);
    parts[1] = Der.integer(2_000);
    for (int i = 0; i < more.length; i++) {
      parts[2 + i] =
          more[i] instanceof Integer length
              ? Der.integer(length)
              : Der.sequence(Der.oid((Oid) more[i]), Der.nul());
    }
    return Der.sequence(Der.oid(Oids.PBKDF2), Der.sequence(parts));
  }

  private static Protection pbes2(byte[] derivation, byte[] scheme) {
    return Protection.read(
        Element.read(Der.sequence(Der.oid(Oids.PBES2), Der.sequence(derivation, scheme))));
  }

  @ParameterizedTest
  @CsvSource({
    "DES/CBC/PKCS5Padding, DES, 8, 8, 1.3.14.3.2.7, true",
    "DESede/CBC/PKCS5Padding, DESede, 24, 8, 1.2.840.113549.3.7, false",
    "AES/CBC/PKCS5Padding, AES, 16, 16, 2.16.840.1.101.3.4.1.2, false",
    "AES/CBC/PKCS5Padding, AES, 24, 16, 2.16.840.1.101.3.4.1.22, false",
    "AES/CBC/PKCS5Padding, AES, 32, 16, 2.16.840.1.101.3.4.1.42, false",
  })
  void theCiphersOfPbes2(
      String name, String key, int octets, int ivOctets, String oid, boolean weak)
      throws Exception {
    byte[] iv =
        Arrays.copyOf(HexFormat.of().parseHex("f0e1d2c3b4a5968778695a4b3c2d1e0f"), ivOctets);
    Cipher cipher = Cipher.getInstance(name);
    SecretKeySpec derived = new SecretKeySpec(pbkdf2("HmacSHA1", 2_000, octets), key);
    cipher.init(Cipher.ENCRYPT_MODE, derived, new IvParameterSpec(iv));
    byte[] sealed = cipher.doFinal(KEY);
    byte[] scheme = Der.sequence(Der.oid(Oid.of(oid)), Der.octets(iv));
    // Without a digest it is SHA-1 (RFC 8018, A.2); the key's length may be said or not.
    for (byte[] derivation : new byte[][] {derivation(), derivation(octets)}) {
      Protection ours = pbes2(derivation, scheme);
      assertArrayEquals(KEY, ours.open(sealed, secret("geheim")).orElseThrow());
      assertArrayEquals(sealed, ours.seal(KEY, secret("geheim")));
      assertEquals(weak, ours.isWeak());
      assertEquals(2_000, ours.rounds());
      assertArrayEquals(
          Der.sequence(Der.oid(Oids.PBES2), Der.sequence(derivation, scheme)), ours.encoding());
      assertEquals(octets > 20 ? 4_000 : 2_000, ours.work(), "a block for each 20 octets");
    }
    SymbolonException other =
        assertThrows(
            SymbolonException.class,
            () -> pbes2(derivation(octets + 1), scheme).open(sealed, secret("geheim")));
    assertTrue(other.seen().contains((octets + 1) + " octets"), other.seen());
    SymbolonException cut =
        assertThrows(
            SymbolonException.class,
            () ->
                pbes2(derivation(), scheme)
                    .open(Arrays.copyOf(sealed, sealed.length - 1), secret("geheim")));
    assertEquals(Reason.NOT_UNDERSTOOD, cut.reason());
    assertThrows(
        SymbolonException.class,
        () ->
            pbes2(
                derivation(),
                Der.sequence(Der.oid(Oid.of(oid)), Der.octets(new byte[ivOctets - 1]))));
  }

  @ParameterizedTest
  @CsvSource({"160, 40", "120, 64", "58, 128", "256, 256", "1024, 1024"})
  void rc2SaysItsEffectiveBitsByAVersion(int version, int bits) throws Exception {
    Cipher cipher = Cipher.getInstance("RC2/CBC/PKCS5Padding");
    int octets = bits / 8;
    cipher.init(
        Cipher.ENCRYPT_MODE,
        new SecretKeySpec(pbkdf2("HmacSHA1", 2_000, octets), "RC2"),
        new RC2ParameterSpec(bits, SALT));
    byte[] parameters = Der.sequence(Der.integer(version), Der.octets(SALT));
    Protection ours = pbes2(derivation(), Der.sequence(Der.oid(Oids.RC2_CBC), parameters));
    assertArrayEquals(KEY, ours.open(cipher.doFinal(KEY), secret("geheim")).orElseThrow());
    assertTrue(ours.isWeak());
    assertTrue(ours.description().contains("RC2-" + bits + "-CBC"), ours.description());
  }

  /** Without a version it is 32 bits, for which Java has no RC2. */
  @Test
  void whatThisJavaRefusesIsSaid() {
    Protection ours =
        pbes2(derivation(), Der.sequence(Der.oid(Oids.RC2_CBC), Der.sequence(Der.octets(SALT))));
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> ours.open(new byte[8], secret("geheim")));
    assertEquals(Reason.UNSUPPORTED, e.reason());
    assertTrue(e.seen().startsWith("This Java refuses RC2-32-CBC"), e.seen());
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 59, 255, 1025})
  void aVersionOfRc2ThatNobodyKnowsIsRefused(int version) {
    byte[] parameters = Der.sequence(Der.integer(version), Der.octets(SALT));
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> pbes2(derivation(), Der.sequence(Der.oid(Oids.RC2_CBC), parameters)));
    assertTrue(e.seen().contains("RC2 of version " + version), e.seen());
  }

  @ParameterizedTest
  @CsvSource({
    "HmacSHA1, 1.2.840.113549.2.7, 20",
    "HmacSHA224, 1.2.840.113549.2.8, 28",
    "HmacSHA256, 1.2.840.113549.2.9, 32",
    "HmacSHA384, 1.2.840.113549.2.10, 48",
    "HmacSHA512, 1.2.840.113549.2.11, 64",
    "HmacSHA512/224, 1.2.840.113549.2.12, 28",
    "HmacSHA512/256, 1.2.840.113549.2.13, 32",
  })
  void theDigestsOfPbkdf2AndWhatEachBlockGives(String hmac, String oid, int octets)
      throws Exception {
    Pbkdf2Parameters read = Pbkdf2Parameters.read(Element.read(derivation(100, Oid.of(oid))));
    assertEquals(2_000L * ((100 + octets - 1) / octets), read.work(100));
    assertArrayEquals(pbkdf2(hmac, 2_000, 100), read.derive(secret("geheim"), 100));
    Pbkdf2Parameters again = Pbkdf2Parameters.read(Element.read(read.encoding()));
    assertEquals(Oid.of(oid), again.hmac());
    assertEquals(100, again.keyLength());
  }

  @Test
  void aKeyOfNobodysLengthIsRefused() {
    for (int length : new int[] {-1, Limits.DERIVED_KEY_OCTETS + 1}) {
      assertThrows(
          SymbolonException.class, () -> Pbkdf2Parameters.read(Element.read(derivation(length))));
    }
    Pbkdf2Parameters most =
        Pbkdf2Parameters.read(Element.read(derivation(Limits.DERIVED_KEY_OCTETS)));
    assertEquals(Limits.DERIVED_KEY_OCTETS, most.derive(secret("x"), 128).length);
    byte[] other =
        Der.sequence(Der.oid(Oid.of("1.2.3.4")), Der.sequence(Der.octets(SALT), Der.integer(1)));
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> Pbkdf2Parameters.read(Element.read(other)));
    assertTrue(e.seen().contains("1.2.3.4"), e.seen());
    SymbolonException cipher =
        assertThrows(
            SymbolonException.class,
            () ->
                pbes2(
                    derivation(),
                    Der.sequence(Der.oid(Oid.of("1.2.3.4.5")), Der.octets(new byte[16]))));
    assertTrue(cipher.seen().contains("PBES2 with 1.2.3.4.5"), cipher.seen());
  }

  /** PBES1 by hand: the digest again and again, the key in front, the vector behind. */
  @ParameterizedTest
  @CsvSource({
    "MD5, DES, 1.2.840.113549.1.5.3",
    "SHA-1, DES, 1.2.840.113549.1.5.10",
    "MD5, RC2, 1.2.840.113549.1.5.6",
    "SHA-1, RC2, 1.2.840.113549.1.5.11",
  })
  void theSchemesOfPbes1(String digest, String algorithm, String oid) throws Exception {
    byte[] derived = "geheim".getBytes(StandardCharsets.UTF_8);
    derived = MessageDigest.getInstance(digest).digest(concat(derived, SALT));
    for (int round = 1; round < 500; round++) {
      derived = MessageDigest.getInstance(digest).digest(derived);
    }
    byte[] iv = Arrays.copyOfRange(derived, 8, 16);
    Cipher cipher = Cipher.getInstance(algorithm + "/CBC/PKCS5Padding");
    cipher.init(
        Cipher.ENCRYPT_MODE,
        new SecretKeySpec(derived, 0, 8, algorithm),
        algorithm.equals("RC2") ? new RC2ParameterSpec(64, iv) : new IvParameterSpec(iv));
    byte[] identifier =
        Der.sequence(Der.oid(Oid.of(oid)), Der.sequence(Der.octets(SALT), Der.integer(500)));
    Protection ours = Protection.read(Element.read(identifier));
    byte[] sealed = cipher.doFinal(KEY);
    assertArrayEquals(KEY, ours.open(sealed, secret("geheim")).orElseThrow());
    assertArrayEquals(sealed, ours.seal(KEY, secret("geheim")));
    assertArrayEquals(identifier, ours.encoding());
    assertEquals(500, ours.work());
    assertEquals(500, ours.rounds());
    byte[] shortSalt =
        Der.sequence(Der.oid(Oid.of(oid)), Der.sequence(Der.octets(new byte[7]), Der.integer(500)));
    assertThrows(SymbolonException.class, () -> Protection.read(Element.read(shortSalt)));
  }

  /** What a SEQUENCE holds. */
  private static List<Element> in(Element sequence) {
    List<Element> all = new ArrayList<>();
    for (var cursor = sequence.cursor(); cursor.hasNext(); ) {
      all.add(cursor.next());
    }
    return all;
  }

  private static byte[] concat(byte[]... parts) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (byte[] part : parts) {
      out.writeBytes(part);
    }
    return out.toByteArray();
  }

  /** The key of a PEM header by hand: MD5 over what there is, password and salt. */
  @ParameterizedTest
  @CsvSource({
    "DES-CBC, DES, 8, 8",
    "DES-EDE3-CBC, DESede, 24, 8",
    "AES-128-CBC, AES, 16, 16",
    "AES-192-CBC, AES, 24, 16",
    "AES-256-CBC, AES, 32, 16",
  })
  void theHeadersOfPem(String name, String algorithm, int octets, int ivOctets) throws Exception {
    byte[] iv = new byte[ivOctets];
    RANDOM.nextBytes(iv);
    byte[] key = new byte[0];
    byte[] block = new byte[0];
    while (key.length < octets) {
      block =
          MessageDigest.getInstance("MD5")
              .digest(
                  concat(block, "geheim".getBytes(StandardCharsets.UTF_8), Arrays.copyOf(iv, 8)));
      key = concat(key, block);
    }
    Cipher cipher = Cipher.getInstance(algorithm + "/CBC/PKCS5Padding");
    cipher.init(
        Cipher.ENCRYPT_MODE, new SecretKeySpec(key, 0, octets, algorithm), new IvParameterSpec(iv));
    byte[] sealed = cipher.doFinal(KEY);
    String header = name + "," + HexFormat.of().withUpperCase().formatHex(iv);
    HeaderProtection ours = HeaderProtection.read(header);
    assertArrayEquals(KEY, ours.open(sealed, secret("geheim")).orElseThrow());
    assertArrayEquals(
        KEY,
        HeaderProtection.read(name + " , " + HexFormat.of().formatHex(iv) + " ")
            .open(sealed, secret("geheim"))
            .orElseThrow());
    Optional<byte[]> wrong = ours.open(sealed, secret("Geheim"));
    assertTrue(wrong.isEmpty() || !Arrays.equals(KEY, wrong.get()));
    assertTrue(ours.description().contains("one round of MD5"), ours.description());
  }

  @ParameterizedTest
  @CsvSource({
    "'AES-256-CBC,0011', length of AES-256-CBC",
    "'AES-256-CBC,zz112233445566778899AABBCCDDEEFF', not hexadecimal",
    "'AES-256-CBC', not hexadecimal",
    "'IDEA-CBC,0011223344556677', IDEA-CBC",
    "'', which is not known",
  })
  void aHeaderThatIsNoneSaysWhy(String header, String why) {
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> HeaderProtection.read(header));
    assertTrue(e.seen().contains(why), e.seen());
  }

  /** The check of an older Java keystore over its key, and its stream of digests, by hand. */
  @Test
  void theKeyOfAJksByHand() throws Exception {
    JavaKeyProtection ours = JavaKeyProtection.sealJks(KEY, secret("gehéim"), RANDOM);
    byte[] sealed = in(Element.read(ours.encoding())).get(1).octets();
    byte[] password = "gehéim".getBytes(StandardCharsets.UTF_16BE);
    byte[] stream = Arrays.copyOf(sealed, 20);
    byte[] open = new byte[KEY.length];
    for (int i = 0; i < open.length; i++) {
      if (i % 20 == 0) {
        stream = MessageDigest.getInstance("SHA-1").digest(concat(password, stream));
      }
      open[i] = (byte) (sealed[20 + i] ^ stream[i % 20]);
    }
    assertArrayEquals(KEY, open);
    assertArrayEquals(
        MessageDigest.getInstance("SHA-1").digest(concat(password, KEY)),
        Arrays.copyOfRange(sealed, 20 + KEY.length, sealed.length));
    JavaKeyProtection read = JavaKeyProtection.read(ours.encoding());
    assertArrayEquals(KEY, read.open(secret("gehéim")).orElseThrow());
    assertEquals(Optional.empty(), read.open(secret("geheim")));
    assertEquals(1, read.rounds());
    byte[] nothing =
        Der.sequence(Der.sequence(Der.oid(Oids.JKS_KEY), Der.nul()), Der.octets(new byte[40]));
    assertEquals(Optional.empty(), JavaKeyProtection.read(nothing).open(secret("x")));
  }

  @Test
  void theKeyOfAJceksIsThePlatformsOwnScheme() throws Exception {
    JavaKeyProtection ours = JavaKeyProtection.sealJceks(KEY, secret("geheim"), RANDOM, 3_000);
    var parts = in(Element.read(ours.encoding()));
    var values = in(in(parts.get(0)).get(1));
    Cipher cipher = Cipher.getInstance("PBEWithMD5AndTripleDES");
    cipher.init(
        Cipher.DECRYPT_MODE,
        SecretKeyFactory.getInstance("PBEWithMD5AndTripleDES")
            .generateSecret(new PBEKeySpec("geheim".toCharArray())),
        new PBEParameterSpec(values.get(0).octets(), values.get(1).smallInteger()));
    assertArrayEquals(KEY, cipher.doFinal(parts.get(1).octets()));
    JavaKeyProtection read = JavaKeyProtection.read(ours.encoding());
    assertEquals(3_000, read.rounds());
    assertArrayEquals(KEY, read.open(secret("geheim")).orElseThrow());
    assertFalse(read.open(secret("Geheim")).filter(other -> Arrays.equals(KEY, other)).isPresent());
    assertEquals(Optional.empty(), read.open(secret("gehéim")));
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> JavaKeyProtection.sealJceks(KEY, secret("gehéim"), RANDOM, 3_000));
    assertTrue(e.seen().contains("file=pass.txt"), e.seen());
    byte[] other =
        Der.sequence(Der.sequence(Der.oid(Oid.of("1.2.3")), Der.nul()), Der.octets(new byte[50]));
    assertThrows(SymbolonException.class, () -> JavaKeyProtection.read(other));
  }

  @Test
  void pbmac1AgreesWithThePlatform() throws Exception {
    PasswordMac mac =
        PasswordMac.over(KEY, secret("geheim"), RANDOM, 1_000, PasswordMac.Scheme.PBMAC1);
    var parts = in(Element.read(mac.encoding()));
    var info = in(parts.get(0));
    byte[] value = info.get(1).octets();
    byte[] salt = in(in(in(in(info.get(0)).get(1)).get(0)).get(1)).get(0).octets();
    byte[] key =
        SecretKeyFactory.getInstance("PBKDF2WithHmacSHA256")
            .generateSecret(new PBEKeySpec("geheim".toCharArray(), salt, 1_000, 256))
            .getEncoded();
    Mac platform = Mac.getInstance("HmacSHA256");
    platform.init(new SecretKeySpec(key, "HmacSHA256"));
    assertArrayEquals(platform.doFinal(KEY), value);
    PasswordMac read = PasswordMac.read(Element.read(mac.encoding()));
    assertTrue(read.matches(KEY, secret("geheim")));
    assertFalse(read.matches(KEY, secret("Geheim")));
    assertEquals(1_000, read.rounds());
    assertEquals(1_000, read.work());
    assertTrue(read.description().startsWith("PBMAC1, "), read.description());
  }

  @Test
  void pbmac1WithTooShortAKeyIsNoProtection() {
    for (int octets : new int[] {0, 19, 20}) {
      byte[] derivation =
          octets == 0 ? derivation(Oids.HMAC_SHA256) : derivation(octets, Oids.HMAC_SHA256);
      byte[] macData =
          Der.sequence(
              Der.sequence(
                  Der.sequence(
                      Der.oid(Oids.PBMAC1),
                      Der.sequence(derivation, Der.sequence(Der.oid(Oids.HMAC_SHA256), Der.nul()))),
                  Der.octets(new byte[32])),
              Der.octets(SALT),
              Der.integer(1));
      if (octets == 20) {
        assertEquals(2_000, PasswordMac.read(Element.read(macData)).rounds());
      } else {
        SymbolonException e =
            assertThrows(SymbolonException.class, () -> PasswordMac.read(Element.read(macData)));
        assertTrue(e.seen().contains(octets + " octets; 20 are the least"), e.seen());
      }
    }
  }

  /** The classic MAC, with the derivation of RFC 7292 that the platform has under its own name. */
  @ParameterizedTest
  @CsvSource({
    "SHA1, HmacPBESHA1",
    "SHA256, HmacPBESHA256",
  })
  void theClassicMacAgreesWithThePlatform(PasswordMac.Scheme scheme, String name) throws Exception {
    PasswordMac ours = PasswordMac.over(KEY, secret("geheim"), RANDOM, 777, scheme);
    var parts = in(Element.read(ours.encoding()));
    Mac platform = Mac.getInstance(name);
    platform.init(
        SecretKeyFactory.getInstance("PBE").generateSecret(new PBEKeySpec("geheim".toCharArray())),
        new PBEParameterSpec(parts.get(1).octets(), 777));
    assertArrayEquals(platform.doFinal(KEY), in(parts.get(0)).get(1).octets());
    assertEquals(777, ours.work());
    assertEquals(777, parts.get(2).smallInteger());
    // Without a number of rounds it is one (RFC 7292, 4).
    byte[] once = Der.sequence(parts.get(0).encoding(), parts.get(1).encoding());
    assertEquals(1, PasswordMac.read(Element.read(once)).rounds());
  }

  @Test
  void theEmptyPasswordIsTriedInBothSpellings() throws Exception {
    Mac mac = Mac.getInstance("HmacSHA1");
    mac.init(
        new SecretKeySpec(
            Pkcs12Kdf.derive("SHA-1", Pkcs12Kdf.FOR_MAC, new byte[0], SALT, 5, 20), "HmacSHA1"));
    byte[] macData =
        Der.sequence(
            Der.sequence(Der.sequence(Der.oid(Oids.SHA1), Der.nul()), Der.octets(mac.doFinal(KEY))),
            Der.octets(SALT),
            Der.integer(5));
    assertTrue(PasswordMac.read(Element.read(macData)).matches(KEY, Secret.empty()));
    assertFalse(PasswordMac.read(Element.read(macData)).matches(KEY, secret("x")));
    Protection old = Protection.forOldReaders(RANDOM, 5);
    assertArrayEquals(KEY, old.open(old.seal(KEY, Secret.empty()), Secret.empty()).orElseThrow());
    assertTrue(old.description().endsWith(" with SHA-1"), old.description());
    assertTrue(old.isWeak());
    assertEquals(5, old.rounds());
    assertEquals(5 * 2 + 5, old.work(), "two blocks for the key, one for the vector");
  }

  @Test
  void theWorkOfOneDerivationAndOfAllIsBounded() {
    byte[] manyRounds =
        Der.sequence(
            Der.oid(Oids.PBKDF2),
            Der.sequence(Der.octets(SALT), Der.integer(Limits.ITERATIONS), Der.integer(100)));
    SymbolonException blocks =
        assertThrows(
            SymbolonException.class,
            () -> Pbkdf2Parameters.read(Element.read(manyRounds)).work(100));
    assertEquals(Reason.LIMIT_PASSED, blocks.reason());
    assertTrue(blocks.seen().contains("25000000 blocks"), blocks.seen());
    byte[] huge =
        Der.sequence(
            Der.oid(Oids.PBKDF2),
            Der.sequence(Der.octets(SALT), Der.integer(java.math.BigInteger.ONE.shiftLeft(70))));
    SymbolonException bits =
        assertThrows(SymbolonException.class, () -> Pbkdf2Parameters.read(Element.read(huge)));
    assertTrue(bits.seen().contains("71 bits"), bits.seen());

    DerivationBudget budget = new DerivationBudget();
    budget.take(Limits.ITERATIONS_PER_FILE);
    SymbolonException file = assertThrows(SymbolonException.class, () -> budget.take(1));
    assertTrue(file.seen().contains("for one file"), file.seen());
    WorkBudget command = WorkBudget.full();
    new DerivationBudget(command).take(Limits.ITERATIONS_PER_FILE);
    new DerivationBudget(command).take(Limits.DERIVATION_BLOCKS - Limits.ITERATIONS_PER_FILE);
    SymbolonException all =
        assertThrows(SymbolonException.class, () -> new DerivationBudget(command).take(1));
    assertTrue(all.seen().contains("All files of this command"), all.seen());
  }

  @Test
  void whatAProtectionIsWorth() {
    ProtectionWorth few = ProtectionWorth.of(Protection.strong(RANDOM, 9_999), "keys");
    assertEquals(ProtectionWorth.Strength.FEW_ROUNDS, few.strength());
    assertEquals("keys: PBES2, AES-256-CBC, PBKDF2-HMAC-SHA-256, 9999 rounds", few.toString());
    assertEquals(
        ProtectionWorth.Strength.SOUND,
        ProtectionWorth.of(Protection.strong(RANDOM, 10_000), "keys").strength());
    assertEquals(
        ProtectionWorth.Strength.WEAK,
        ProtectionWorth.of(Protection.forOldReaders(RANDOM, 100_000), "keys").strength());
    PasswordMac mac = PasswordMac.over(KEY, secret("x"), RANDOM, 100, PasswordMac.Scheme.SHA256);
    assertEquals("integrity: HMAC-SHA-256, 100 rounds", ProtectionWorth.of(mac).toString());
    assertEquals(ProtectionWorth.Strength.FEW_ROUNDS, ProtectionWorth.of(mac).strength());
    ProtectionWorth jks = ProtectionWorth.of(JavaKeyProtection.sealJks(KEY, secret("x"), RANDOM));
    assertEquals(ProtectionWorth.Strength.WEAK, jks.strength());
    assertTrue(jks.toString().endsWith(", 1 round"), jks.toString());
    assertEquals(
        ProtectionWorth.Strength.WEAK,
        ProtectionWorth.of(HeaderProtection.read("DES-CBC,0011223344556677")).strength());
    assertEquals(ProtectionWorth.Strength.WEAK, ProtectionWorth.ofJavaStore().strength());
  }
}
