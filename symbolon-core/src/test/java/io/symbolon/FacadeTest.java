// SPDX-License-Identifier: Apache-2.0
package io.symbolon;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.party.Trust;
import io.symbolon.seal.Secret;
import io.symbolon.tls.ReloadReport;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import javax.net.ssl.X509ExtendedKeyManager;
import javax.net.ssl.X509TrustManager;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a program that embeds Symbolon begins with. The platform's own classes are the judge. */
class FacadeTest {
  @TempDir Path folder;

  private static Map<String, byte[]> pile() {
    return Map.of(
        "key.pem", PemText.openKey(INGEST),
        "reply.der", INGEST.certificate().encoding(),
        "authorities.pem", pem(issuing(), root()));
  }

  @Test
  void octetsBecomeACredentialAndWhatThePlatformTakes() throws Exception {
    Material material = Material.reader().read(pile());
    assertEquals(List.of(INGEST.certificate(), issuing()), material.credential().chain());
    assertEquals(1, material.credentials().size());
    assertEquals(
        Set.of(issuing(), root()), Set.copyOf(material.trust().certificates()), "authorities only");

    char[] password = "of the key".toCharArray();
    KeyStore keystore = Keystores.keyStore(material.credential(), "ingest", password);
    assertEquals(INGEST.key().toPrivateKey(), keystore.getKey("ingest", password));
    assertEquals(2, keystore.getCertificateChain("ingest").length);
    KeyStore trusted = Keystores.trustStore(material.trust());
    assertEquals(2, trusted.size());
    assertTrue(trusted.isCertificateEntry(trusted.aliases().nextElement()));

    X509ExtendedKeyManager keys =
        (X509ExtendedKeyManager) Keystores.keyManagers(material.credential())[0];
    String alias = keys.chooseEngineServerAlias("RSA", null, null);
    assertEquals(INGEST.certificate().toX509Certificate(), keys.getCertificateChain(alias)[0]);
    X509TrustManager judge = (X509TrustManager) Keystores.trustManagers(Trust.in(root()))[0];
    judge.checkServerTrusted(
        new java.security.cert.X509Certificate[] {
          INGEST.certificate().toX509Certificate(), issuing().toX509Certificate()
        },
        "RSA");
    assertThrows(IllegalArgumentException.class, Keystores::keyManagers);
    assertThrows(IllegalArgumentException.class, () -> Keystores.trustStore(Trust.system()));
    assertThrows(IllegalArgumentException.class, () -> Material.read());
  }

  @Test
  void whatIsHandedOnIsReadAgain() throws Exception {
    try (Secret seal = Secret.random("a test")) {
      byte[] store = Keystores.pkcs12(INGEST, "ingest", seal, Pkcs12Strength.STRONG);
      KeyStore platform = KeyStore.getInstance("PKCS12");
      char[] password = seal.reveal();
      platform.load(new ByteArrayInputStream(store), password);
      assertEquals(INGEST.key().toPrivateKey(), platform.getKey("ingest", password));
      assertEquals(
          List.of(INGEST.certificate(), issuing()),
          Material.reader().read(platform, password).credential().chain());
      Material locked = Material.reader().read("ingest.p12", store);
      assertEquals(
          Reason.LOCKED, assertThrows(SymbolonException.class, locked::credential).reason());

      byte[] sealed = PemText.sealedKey(INGEST, seal);
      assertFalse(new String(sealed, StandardCharsets.US_ASCII).contains("BEGIN PRIVATE KEY"));
      Files.write(folder.resolve("key.pem"), sealed);
      Files.writeString(folder.resolve("chain.pem"), PemText.chain(INGEST));
      Files.write(folder.resolve("root.der"), root().encoding());
      assertArrayEquals(
          INGEST.certificate().encoding(),
          Material.reader().withPasswords(seal).read(folder).credential().certificate().encoding());
    }
  }

  @Test
  void findingsTellWhatTheySpeakOfAsValues() {
    Instant end = INGEST.certificate().notAfter();
    Material material =
        Material.reader()
            .withExpiryWarning(Duration.between(NOW, end).plusDays(1))
            .read(Map.of("reply.der", INGEST.certificate().encoding()));
    Finding soon =
        material.findings().stream()
            .filter(finding -> finding.is(FindingKind.EXPIRES_SOON))
            .findFirst()
            .orElseThrow();
    assertEquals(end, soon.about().date().orElseThrow());
    assertEquals(INGEST.certificate().sha256(), soon.about().certificates().get(0).sha256());
    assertEquals(Path.of("reply.der"), soon.about().file().orElseThrow());
    assertTrue(
        Material.reader()
            .read(Map.of("reply.der", INGEST.certificate().encoding()))
            .findings()
            .stream()
            .noneMatch(finding -> finding.is(FindingKind.EXPIRES_SOON)),
        "30 days otherwise");
  }

  @Test
  void theCertificateThatIsValidNowIsTheKeysOwn() {
    Certificate future = again(NOW.plus(Duration.ofDays(2)), Duration.ofDays(900));
    Certificate past = again(NOW.minus(Duration.ofDays(90)), Duration.ofDays(80));
    Certificate newer =
        again(INGEST.certificate().notBefore().plusSeconds(60), Duration.ofDays(100));
    for (List<Certificate> order :
        List.of(
            List.of(future, INGEST.certificate(), past),
            List.of(past, future, INGEST.certificate()))) {
      assertEquals(INGEST.certificate(), chosen(order), "valid now, whatever else is there");
    }
    assertEquals(newer, chosen(List.of(INGEST.certificate(), newer)), "the latest");
    assertEquals(newer, chosen(List.of(newer, INGEST.certificate())), "the latest");
  }

  private static Certificate again(Instant from, Duration lasts) {
    return CertificateBuilder.of(INGEST.certificate().subject(), INGEST.certificate().publicKey())
        .validity(from, from.plus(lasts))
        .sign(issuing(), ISSUING.credential().key().toPrivateKey(), RANDOM);
  }

  private static Certificate chosen(List<Certificate> certificates) {
    List<Certificate> all = new ArrayList<>(certificates);
    all.add(issuing());
    all.add(root());
    return Material.reader()
        .read(
            Map.of(
                "key.pem",
                PemText.openKey(INGEST),
                "certificates.pem",
                PemText.certificates(all).getBytes(StandardCharsets.US_ASCII)))
        .credential()
        .certificate();
  }

  @Test
  void aSupplierThatFailsIsReportedAndTheOldSetupStays() {
    AtomicBoolean broken = new AtomicBoolean();
    ReloadingTls tls =
        ReloadingTls.of(
            () -> {
              if (broken.get()) {
                throw new IllegalStateException("the database is away");
              }
              return TlsSetup.server(INGEST);
            });
    TlsSetup before = tls.setup();
    broken.set(true);
    ReloadReport report = tls.reload();
    assertEquals(ReloadReport.Outcome.REFUSED, report.outcome());
    assertTrue(report.findings().get(0).statement().contains("the database is away"));
    assertEquals(before, tls.setup());
  }

  @Test
  void newPasswordsAreLongAndNeverTheSame() {
    try (Secret one = Secret.random("a");
        Secret other = Secret.random("b");
        Secret typed = secret("short")) {
      assertEquals(26, one.length());
      assertFalse(one.isSameAs(other));
      assertFalse(one.isSameAs(typed));
      char[] revealed = one.reveal();
      assertTrue(one.isAscii());
      Arrays.fill(revealed, '\0');
    }
  }
}
