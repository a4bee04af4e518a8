// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.security.KeyStore;
import java.security.PrivateKey;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import javax.crypto.spec.PBEParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class Pkcs12Test {
  private static final char[] PASSWORD = "geheim".toCharArray();

  private static StoreEntry.KeyEntry entry(String alias, Credential credential) {
    return new StoreEntry.KeyEntry(alias, credential.key(), credential.chain());
  }

  private static KeyStore load(byte[] store, char[] password) throws Exception {
    KeyStore loaded = KeyStore.getInstance("PKCS12");
    loaded.load(new ByteArrayInputStream(store), password);
    return loaded;
  }

  private static byte[] save(KeyStore store, char @Nullable [] password) throws Exception {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, password);
    return out.toByteArray();
  }

  private static KeyStore platform(Credential credential) throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setKeyEntry(
        "ingest",
        credential.key().toPrivateKey(),
        PASSWORD,
        credential.chain().stream()
            .map(Certificate::toX509Certificate)
            .toArray(java.security.cert.Certificate[]::new));
    store.setCertificateEntry("root", root().toX509Certificate());
    return store;
  }

  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#kinds")
  void thePlatformOpensWhatWeWrite(KeyKind kind) throws Exception {
    Credential credential = io.symbolon.fixture.Lanternfish.server("x.lanternfish.example", kind);
    byte[] store =
        Pkcs12Writer.write(
            List.of(
                entry("Server", credential),
                entry("catalogue", CATALOGUE),
                new StoreEntry.Trusted("lanternfish-root", root()),
                new StoreEntry.Trusted("Grüße 深海", issuing())),
            secret("geheim"),
            RANDOM);
    KeyStore loaded = load(store, PASSWORD);
    assertEquals(4, loaded.size());
    assertTrue(loaded.isKeyEntry("server"));
    assertTrue(loaded.isCertificateEntry("lanternfish-root"));
    assertTrue(loaded.isCertificateEntry("grüße 深海"));
    assertEquals(credential.key().toPrivateKey(), loaded.getKey("server", PASSWORD));
    assertEquals(
        credential.chain().stream().map(Certificate::toX509Certificate).toList(),
        List.of(loaded.getCertificateChain("server")));
    assertEquals(
        CATALOGUE.chain().stream().map(Certificate::toX509Certificate).toList(),
        List.of(loaded.getCertificateChain("catalogue")));
    assertEquals(root().toX509Certificate(), loaded.getCertificate("lanternfish-root"));
    assertThrows(java.io.IOException.class, () -> load(store, "wrong".toCharArray()));
  }

  @Test
  void weOpenWhatThePlatformWrites() throws Exception {
    byte[] store = save(platform(INGEST), PASSWORD);
    Pkcs12 read = Pkcs12Reader.read(store, List.of(secret("wrong"), secret("geheim")));
    assertEquals(Pkcs12.Integrity.CHECKED, read.integrity());
    assertFalse(read.isLocked());
    assertEquals("file=pass.txt", read.opener().orElseThrow().source());
    List<Bag.Key> keys = bags(read, Bag.Key.class);
    assertEquals(1, keys.size());
    assertEquals("ingest", keys.get(0).labels().alias().orElseThrow());
    assertEquals(INGEST.key().toPrivateKey(), keys.get(0).key().orElseThrow().toPrivateKey());
    List<Bag.Cert> certificates = bags(read, Bag.Cert.class);
    assertTrue(
        certificates.stream()
            .anyMatch(
                c ->
                    c.trusted()
                        && c.certificate().equals(root())
                        && c.labels().alias().orElse("").equals("root")));
    assertTrue(certificates.stream().anyMatch(c -> c.certificate().equals(INGEST.certificate())));
    assertEquals(
        keys.get(0).labels().localKeyId(),
        certificates.stream()
            .filter(c -> c.certificate().equals(INGEST.certificate()))
            .findFirst()
            .orElseThrow()
            .labels()
            .localKeyId());
  }

  /** Older software: SHA-1 MAC, 3DES for keys, RC2-40 for certificates. */
  @Test
  void weOpenTheOlderKindThatThePlatformStillWrites() throws Exception {
    String[] names = {
      "keystore.pkcs12.certProtectionAlgorithm", "PBEWithSHA1AndRC2_40",
      "keystore.pkcs12.keyProtectionAlgorithm", "PBEWithSHA1AndDESede",
      "keystore.pkcs12.macAlgorithm", "HmacPBESHA1",
      "keystore.pkcs12.macIterationCount", "1024",
    };
    for (int i = 0; i < names.length; i += 2) {
      System.setProperty(names[i], names[i + 1]);
    }
    byte[] store;
    try {
      store = save(platform(CATALOGUE), PASSWORD);
    } finally {
      for (int i = 0; i < names.length; i += 2) {
        System.clearProperty(names[i]);
      }
    }
    Pkcs12 read = Pkcs12Reader.read(store, List.of(secret("geheim")));
    assertEquals("HMAC-SHA-1", read.mac().orElseThrow().description());
    assertTrue(read.protections().toString().contains("RC2-40"), read.protections().toString());
    assertTrue(read.protections().toString().contains("3DES"), read.protections().toString());
    assertEquals(
        CATALOGUE.key().toPrivateKey(),
        bags(read, Bag.Key.class).get(0).key().orElseThrow().toPrivateKey());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "PBEWithHmacSHA1AndAES_128",
        "PBEWithHmacSHA512AndAES_256",
        "PBEWithSHA1AndRC4_128"
      })
  void keysWithAProtectionOfTheirOwnAreOpened(String algorithm) throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setEntry(
        "ingest",
        new KeyStore.PrivateKeyEntry(
            INGEST.key().toPrivateKey(),
            new java.security.cert.Certificate[] {INGEST.certificate().toX509Certificate()}),
        new KeyStore.PasswordProtection(
            "another".toCharArray(), algorithm, new PBEParameterSpec(new byte[20], 5000)));
    byte[] bytes = save(store, PASSWORD);

    Pkcs12 locked = Pkcs12Reader.read(bytes, List.of(secret("geheim")));
    assertEquals(Pkcs12.Integrity.CHECKED, locked.integrity());
    assertEquals(1, locked.lockedParts());
    assertTrue(bags(locked, Bag.Key.class).get(0).key().isEmpty());

    Pkcs12 open = Pkcs12Reader.read(bytes, List.of(secret("another"), secret("geheim")));
    assertFalse(open.isLocked());
    assertEquals(
        INGEST.key().toPrivateKey(),
        bags(open, Bag.Key.class).get(0).key().orElseThrow().toPrivateKey());
  }

  @Test
  void secretKeysAreListed() throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setKeyEntry("buoys", new SecretKeySpec(new byte[16], "AES"), PASSWORD, null);
    Pkcs12 read = Pkcs12Reader.read(save(store, PASSWORD), List.of(secret("geheim")));
    assertEquals("buoys", bags(read, Bag.SecretValue.class).get(0).labels().alias().orElseThrow());
  }

  @Test
  void aStoreWithoutAPasswordNeedsNone() throws Exception {
    System.setProperty("keystore.pkcs12.certProtectionAlgorithm", "NONE");
    System.setProperty("keystore.pkcs12.macAlgorithm", "NONE");
    byte[] store;
    try {
      KeyStore trust = KeyStore.getInstance("PKCS12");
      trust.load(null, null);
      trust.setCertificateEntry("root", root().toX509Certificate());
      store = save(trust, null);
    } finally {
      System.clearProperty("keystore.pkcs12.certProtectionAlgorithm");
      System.clearProperty("keystore.pkcs12.macAlgorithm");
    }
    Pkcs12 read = Pkcs12Reader.read(store, List.of());
    assertEquals(Pkcs12.Integrity.ABSENT, read.integrity());
    assertEquals(root(), bags(read, Bag.Cert.class).get(0).certificate());
  }

  @Test
  void aPasswordThatJavaWouldNotTakeIsRefused() {
    List<StoreEntry> entries = List.of(new StoreEntry.Trusted("root", root()));
    SymbolonException e =
        assertThrows(
            SymbolonException.class, () -> Pkcs12Writer.write(entries, secret("länger"), RANDOM));
    assertEquals(Reason.INVALID_ARGUMENT, e.reason());
  }

  @Test
  void theEmptyPasswordNeedsNoQuestion() throws Exception {
    byte[] store =
        Pkcs12Writer.write(List.of(new StoreEntry.Trusted("root", root())), Secret.empty(), RANDOM);
    Pkcs12 read = Pkcs12Reader.read(store, List.of());
    assertEquals(Pkcs12.Integrity.CHECKED, read.integrity());
    assertTrue(read.opener().orElseThrow().isEmpty());
    assertEquals(root().toX509Certificate(), load(store, new char[0]).getCertificate("root"));
  }

  @Test
  void aWrongPasswordIsToldApartFromAnAlteredFile() {
    byte[] store = Pkcs12Writer.write(List.of(entry("ingest", INGEST)), secret("geheim"), RANDOM);
    Pkcs12 wrong = Pkcs12Reader.read(store, List.of(secret("wrong")));
    assertEquals(Pkcs12.Integrity.NOT_CHECKED, wrong.integrity());
    assertFalse(wrong.intactButAltered());
    assertTrue(wrong.isLocked());

    byte[] altered = store.clone();
    altered[altered.length - 30] ^= 1; // in the MAC's value or salt
    Pkcs12 read = Pkcs12Reader.read(altered, List.of(secret("geheim")));
    assertTrue(read.intactButAltered());
  }

  @Test
  void twoEntriesOfOneAliasAreNotWritten() {
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () ->
                Pkcs12Writer.write(
                    List.of(
                        new StoreEntry.Trusted("Root", root()),
                        new StoreEntry.Trusted("root", issuing())),
                    secret("geheim"),
                    RANDOM));
    assertEquals(Reason.AMBIGUOUS, e.reason());
  }

  @Test
  void berInAStreamIsRead() throws Exception {
    byte[] der = save(platform(CATALOGUE), PASSWORD);
    // The outermost sequence of indefinite length, as written by software that streams.
    var parts = new ArrayList<byte[]>();
    var cursor = io.symbolon.der.Element.read(der).cursor();
    while (cursor.hasNext()) {
      parts.add(cursor.next().encoding());
    }
    ByteArrayOutputStream ber = new ByteArrayOutputStream();
    ber.writeBytes(new byte[] {0x30, (byte) 0x80});
    parts.forEach(ber::writeBytes);
    ber.writeBytes(new byte[2]);
    Pkcs12 read = Pkcs12Reader.read(ber.toByteArray(), List.of(secret("geheim")));
    assertEquals(Pkcs12.Integrity.CHECKED, read.integrity());
    assertEquals(Collections.list(platform(CATALOGUE).aliases()).size(), 2);
  }

  /** PBMAC1 (RFC 9579, 4) computed with the platform's own PBKDF2 and HMAC. */
  @ParameterizedTest
  @ValueSource(strings = {"SHA256", "SHA512"})
  void theNewerIntegrityCheckIsUnderstood(String digest) throws Exception {
    byte[] safe =
        Der.sequence(
            Der.sequence(
                Der.oid(Oids.DATA),
                Der.context(0, Der.octets(Der.sequence(openCertificateBag(root()))))));
    byte[] salt = {1, 2, 3, 4, 5, 6, 7, 8};
    var oid = digest.equals("SHA256") ? Oids.HMAC_SHA256 : Oids.HMAC_SHA512;
    byte[] key =
        javax.crypto.SecretKeyFactory.getInstance("PBKDF2WithHmac" + digest)
            .generateSecret(new javax.crypto.spec.PBEKeySpec(PASSWORD, salt, 2048, 256))
            .getEncoded();
    javax.crypto.Mac mac = javax.crypto.Mac.getInstance("Hmac" + digest);
    mac.init(new SecretKeySpec(key, "x"));
    byte[] hmac = Der.sequence(Der.oid(oid), Der.nul());
    byte[] derivation =
        Der.sequence(
            Der.oid(Oids.PBKDF2),
            Der.sequence(Der.octets(salt), Der.integer(2048), Der.integer(32), hmac));
    byte[] macData =
        Der.sequence(
            Der.sequence(
                Der.sequence(Der.oid(Oids.PBMAC1), Der.sequence(derivation, hmac)),
                Der.octets(mac.doFinal(safe))),
            Der.octets("ignored".getBytes(java.nio.charset.StandardCharsets.US_ASCII)),
            Der.integer(1));
    byte[] store =
        Der.sequence(
            Der.integer(3),
            Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(safe))),
            macData);
    Pkcs12 read = Pkcs12Reader.read(store, List.of(secret("geheim")));
    assertEquals(Pkcs12.Integrity.CHECKED, read.integrity());
    assertEquals(root(), bags(read, Bag.Cert.class).get(0).certificate());
    assertTrue(read.mac().orElseThrow().description().startsWith("PBMAC1"));
    assertEquals(
        Pkcs12.Integrity.NOT_CHECKED,
        Pkcs12Reader.read(store, List.of(secret("wrong"))).integrity());
  }

  private static byte[] openCertificateBag(Certificate certificate) {
    return Der.sequence(
        Der.oid(Oids.CERT_BAG),
        Der.context(
            0,
            Der.sequence(
                Der.oid(Oids.X509_CERTIFICATE),
                Der.context(0, Der.octets(certificate.encoding())))));
  }

  @Test
  void whatIsInNestedBagsOrUnknownIsNotLost() {
    byte[] nested =
        Der.sequence(
            Der.oid(Oids.SAFE_CONTENTS_BAG),
            Der.context(0, Der.sequence(openCertificateBag(issuing()))));
    byte[] strange =
        Der.sequence(Der.oid(io.symbolon.oid.Oid.of("1.2.3.4")), Der.context(0, Der.nul()));
    byte[] openKey =
        Der.sequence(Der.oid(Oids.KEY_BAG), Der.context(0, CATALOGUE.key().revealPkcs8()));
    byte[] safe =
        Der.sequence(
            Der.sequence(
                Der.oid(Oids.DATA),
                Der.context(0, Der.octets(Der.sequence(nested, strange, openKey)))));
    byte[] store =
        Der.sequence(
            Der.integer(3), Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(safe))));
    Pkcs12 read = Pkcs12Reader.read(store, List.of());
    assertEquals(issuing(), bags(read, Bag.Cert.class).get(0).certificate());
    assertEquals("1.2.3.4", bags(read, Bag.Unknown.class).get(0).type().toString());
    Bag.Key key = bags(read, Bag.Key.class).get(0);
    assertTrue(key.protection().isEmpty(), "it lies open");
    assertEquals(CATALOGUE.key().toPrivateKey(), key.key().orElseThrow().toPrivateKey());
  }

  @Test
  void twoBillionRoundsAreRefusedBeforeAnyIsDone() {
    byte[] mac =
        Der.sequence(
            Der.sequence(Der.sequence(Der.oid(Oids.SHA256), Der.nul()), Der.octets(new byte[32])),
            Der.octets(new byte[8]),
            Der.integer(2_000_000_000));
    byte[] store =
        Der.sequence(
            Der.integer(3),
            Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.sequence()))),
            mac);
    SymbolonException e =
        assertThrows(
            SymbolonException.class, () -> Pkcs12Reader.read(store, List.of(secret("geheim"))));
    assertEquals(Reason.LIMIT_PASSED, e.reason());
    assertTrue(e.seen().contains("2000000000"), e.seen());
  }

  @Test
  void changedBytesGiveTheOneException() throws Exception {
    System.setProperty("keystore.pkcs12.macIterationCount", "10");
    System.setProperty("keystore.pkcs12.certPbeIterationCount", "10");
    System.setProperty("keystore.pkcs12.keyPbeIterationCount", "10");
    byte[] store;
    try {
      store = save(platform(CATALOGUE), PASSWORD);
    } finally {
      System.clearProperty("keystore.pkcs12.macIterationCount");
      System.clearProperty("keystore.pkcs12.certPbeIterationCount");
      System.clearProperty("keystore.pkcs12.keyPbeIterationCount");
    }
    Random random = new Random(23);
    int refused = 0;
    for (int round = 0; round < 1_500; round++) {
      byte[] changed = store.clone();
      // Where the structure is, and not where a changed count would ask for a million rounds.
      int at = random.nextInt(changed.length);
      changed[at] = (byte) random.nextInt();
      try {
        Pkcs12 read = Pkcs12Reader.read(changed, List.of(secret("geheim")));
        if (!java.util.Arrays.equals(changed, store)) {
          refused += read.isLocked() || read.integrity() == Pkcs12.Integrity.ABSENT ? 1 : 0;
        }
      } catch (SymbolonException expected) {
        refused++;
      }
    }
    assertTrue(refused > 1_300, "refused " + refused);
  }

  @Test
  void localKeyIdsAreStableSoThatAStoreCanBeCompared() {
    List<String> ids = new ArrayList<>();
    for (int i = 0; i < 2; i++) {
      byte[] store = Pkcs12Writer.write(List.of(entry("ingest", INGEST)), secret("geheim"), RANDOM);
      Pkcs12 read = Pkcs12Reader.read(store, List.of(secret("geheim")));
      ids.add(bags(read, Bag.Key.class).get(0).labels().localKeyId().orElseThrow());
      PrivateKey key = bags(read, Bag.Key.class).get(0).key().orElseThrow().toPrivateKey();
      assertArrayEquals(INGEST.key().revealPkcs8(), key.getEncoded());
    }
    assertEquals(ids.get(0), ids.get(1));
  }

  private static <T extends Bag> List<T> bags(Pkcs12 store, Class<T> kind) {
    return store.bags().stream().filter(kind::isInstance).map(kind::cast).toList();
  }
}
