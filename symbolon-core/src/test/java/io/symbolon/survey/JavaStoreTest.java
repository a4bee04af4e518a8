// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.chain.SystemRoots;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.format.Format;
import io.symbolon.seal.Secret;
import io.symbolon.store.JavaStoreReader;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Keystores of Java's older kinds, written by the platform and read by us. */
class JavaStoreTest {
  private static final char[] STORE = "store-word".toCharArray();
  private static final char[] KEY = "key-word".toCharArray();

  @TempDir Path folder;

  private static KeyStore store(String type) throws Exception {
    KeyStore store = KeyStore.getInstance(type);
    store.load(null, null);
    store.setKeyEntry("Ingest", INGEST.key().toPrivateKey(), KEY, chain(INGEST));
    store.setKeyEntry("catalogue", CATALOGUE.key().toPrivateKey(), STORE, chain(CATALOGUE));
    store.setCertificateEntry("grüße", root().toX509Certificate());
    return store;
  }

  private static java.security.cert.Certificate[] chain(Credential credential) {
    return credential.chain().stream()
        .map(Certificate::toX509Certificate)
        .toArray(java.security.cert.Certificate[]::new);
  }

  private static byte[] bytes(KeyStore store) throws Exception {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, STORE);
    return out.toByteArray();
  }

  private Survey survey(byte[] bytes, Secret... unlock) {
    return Surveyor.create()
        .withSystemRoots(SystemRoots.none())
        .withUnlock(List.of(unlock))
        .survey(List.of(file(folder, "server.keystore", bytes)));
  }

  private static List<String> ids(Survey survey) {
    return survey.findings().stream().map(Finding::id).distinct().toList();
  }

  @ParameterizedTest
  @CsvSource({"JKS, JKS", "JCEKS, JCEKS"})
  void keysWithPasswordsOfTheirOwnAreOpened(String type, Format format) throws Exception {
    byte[] bytes = bytes(store(type));
    Survey survey = survey(bytes, secret("store-word"), secret("key-word"));
    FileSurvey file = survey.files().get(0);
    assertEquals(format, file.format());
    assertFalse(file.locked());
    assertEquals(2, survey.matches().size());
    assertEquals(2, file.openers().size(), "one for the store and a key, one for the other key");
    for (Match match : survey.matches()) {
      assertEquals(3, match.chain().orElseThrow().certificates().size());
    }
    assertTrue(survey.matches().stream().anyMatch(m -> m.isNamed("ingest")));
    assertEquals(List.of("weak-protection", "duplicate"), ids(survey), "the integrity was checked");
    assertEquals(
        "grüße",
        survey.certificates().getOrDefault(root(), List.of()).stream()
            .flatMap(place -> place.alias().stream())
            .findFirst()
            .orElseThrow());
  }

  @ParameterizedTest
  @ValueSource(strings = {"JKS", "JCEKS"})
  void withoutAPasswordTheCertificatesAreStillListed(String type) throws Exception {
    Survey survey = survey(bytes(store(type)));
    assertEquals(4, survey.certificates().size());
    assertEquals(Reason.LOCKED, survey.failures().get(0).reason());

    Survey storeOnly = survey(bytes(store(type)), secret("store-word"));
    assertTrue(
        storeOnly.failures().get(0).seen().contains("a password of its own"),
        storeOnly.failures().get(0).seen());

    KeyStore trust = KeyStore.getInstance(type);
    trust.load(null, null);
    trust.setCertificateEntry("root", root().toX509Certificate());
    Survey listed = survey(bytes(trust));
    assertEquals(List.of(root()), List.copyOf(listed.certificates().keySet()));
    assertTrue(ids(listed).contains("integrity-not-checked"));
    assertTrue(ids(survey(bytes(trust), secret("wrong"))).contains("integrity-not-checked"));
    assertFalse(ids(survey(bytes(trust), secret("store-word"))).contains("integrity-not-checked"));
  }

  @Test
  void aSecretKeyIsListedAndNeverDeserialized() throws Exception {
    KeyStore store = KeyStore.getInstance("JCEKS");
    store.load(null, null);
    store.setKeyEntry("buoys", new SecretKeySpec(new byte[16], "AES"), STORE, null);
    Survey survey = survey(bytes(store), secret("store-word"));
    assertTrue(survey.files().get(0).holdings().get(0) instanceof Holding.SecretKey);
    assertTrue(ids(survey).contains("not-read-to-its-end"));
  }

  @Test
  void aDamagedKeystoreGivesTheOneException() throws Exception {
    byte[] bytes = bytes(store("JKS"));
    Random random = new Random(5);
    for (int round = 0; round < 3_000; round++) {
      byte[] changed =
          Arrays.copyOf(
              bytes, random.nextInt(3) == 0 ? random.nextInt(bytes.length) : bytes.length);
      if (changed.length > 4) {
        changed[4 + random.nextInt(changed.length - 4)] = (byte) random.nextInt();
      }
      try {
        if (JavaStoreReader.isOne(changed)) {
          assertTrue(
              JavaStoreReader.read(changed, List.of(secret("store-word"))).entries().size() < 100);
        }
      } catch (SymbolonException expected) {
        assertFalse(expected.seen().isEmpty());
      }
    }
  }

  @Test
  void theRootsOfThisJavaAreTheSameAsThePlatformSays() throws Exception {
    javax.net.ssl.TrustManagerFactory factory =
        javax.net.ssl.TrustManagerFactory.getInstance("PKIX");
    factory.init((KeyStore) null);
    var theirs =
        Arrays.stream(factory.getTrustManagers())
            .filter(javax.net.ssl.X509TrustManager.class::isInstance)
            .flatMap(m -> Arrays.stream(((javax.net.ssl.X509TrustManager) m).getAcceptedIssuers()))
            .map(Certificate::of)
            .collect(java.util.stream.Collectors.toSet());
    assertEquals(theirs, new java.util.HashSet<>(SystemRoots.ofPlatform().all()));
  }
}
