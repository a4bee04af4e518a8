// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.chain.SystemRoots;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Snapshot;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.key.KeyKind;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A keystore that is changed keeps what it held; one that is replaced, and what is lost by it. */
class ReplacedStoreTest {
  private static final Credential RENEWED = Lanternfish.server(HOST, KeyKind.EC_P256);

  @TempDir Path folder;

  private static Surveyor surveyor(String... passwords) {
    return Surveyor.create()
        .withSystemRoots(SystemRoots.none())
        .withUnlock(List.of(passwords).stream().map(Lanternfish::secret).toList());
  }

  private Path store(String type) {
    return file(
        folder,
        "store." + type.toLowerCase(java.util.Locale.ROOT),
        PlatformStore.of(type, "geheim", "geheim", root(), INGEST, CATALOGUE));
  }

  private static StoreEntry.KeyEntry entry(String alias, Credential credential) {
    return new StoreEntry.KeyEntry(alias, credential.key(), credential.chain());
  }

  private static List<String> told(Survey old, StoreEntry... fresh) {
    return LeftBehind.of(old, Bundle.of(List.of(fresh)), Path.of("store.p12")).stream()
        .map(Finding::statement)
        .toList();
  }

  @ParameterizedTest
  @ValueSource(strings = {"PKCS12", "JKS", "JCEKS"})
  void aRenewedEntryHasTheNewKeyAndAllOthersAreAsTheyWere(String type) throws Exception {
    StoreEdit edit = StoreEdit.open(store(type), surveyor("geheim"));
    assertTrue(edit.holdsKey("Ingest"), "as Java's readers, in upper or lower case");
    assertFalse(edit.holdsKey("root"), "no key");
    assertEquals(List.of("ingest", "catalogue", "root").size(), edit.aliases().size());
    assertTrue(edit.password().isSameAs(secret("geheim")));
    byte[] written =
        edit.renewed(entry("INGEST", RENEWED))
            .encode("x", SealOptions.sealed(edit.password()), RANDOM)
            .content();
    KeyStore platform = PlatformStore.load(type, written, "geheim");
    assertEquals(3, platform.size());
    assertEquals(RENEWED.certificate().toX509Certificate(), platform.getCertificate("ingest"));
    assertArrayEquals(
        RENEWED.key().toPrivateKey().getEncoded(),
        platform.getKey("ingest", "geheim".toCharArray()).getEncoded());
    assertEquals(CATALOGUE.certificate().toX509Certificate(), platform.getCertificate("catalogue"));
    assertEquals(root().toX509Certificate(), platform.getCertificate("root"));
    KeyStore more =
        PlatformStore.load(
            type,
            edit.renewed(entry("spare", RENEWED))
                .encode("x", SealOptions.sealed(edit.password()), RANDOM)
                .content(),
            "geheim");
    assertEquals(4, more.size());
  }

  /** Each entry has its certificates for the platform, too. */
  @Test
  void oneKeyUnderSeveralAliasesKeepsItsCertificateUnderEach() throws Exception {
    String id = HexFormat.of().formatHex(new byte[] {1, 2});
    List<StoreEntry> entries = new ArrayList<>();
    for (String alias : List.of("a", "b", "c", "d")) {
      entries.add(
          new StoreEntry.KeyEntry(
              alias,
              INGEST.key(),
              INGEST.chain(),
              Optional.empty(),
              alias.compareTo("c") < 0 ? Optional.empty() : Optional.of(id),
              Optional.empty()));
    }
    byte[] written =
        Conversion.of(Bundle.of(entries), Format.PKCS12, KeyForm.PKCS8, "x")
            .encode("x", SealOptions.sealed(secret("geheim")), RANDOM)
            .content();
    KeyStore platform = PlatformStore.load("PKCS12", written, "geheim");
    assertEquals(4, platform.size());
    for (String alias : List.of("a", "b", "c", "d")) {
      assertEquals(INGEST.certificate().toX509Certificate(), platform.getCertificate(alias), alias);
      assertTrue(platform.isKeyEntry(alias), alias);
    }
  }

  @Test
  void anAliasThatIsTakenIsNotTakenAgain() {
    StoreEdit edit = StoreEdit.open(store("PKCS12"), surveyor("geheim"));
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> edit.with(entry("Ingest", RENEWED)));
    assertEquals(Reason.EXISTS, e.reason());
    assertEquals(4, edit.with(entry("spare", RENEWED)).bundle().entries().size());
    assertEquals(4, edit.withTrusted(Map.of("issuing", issuing())).bundle().entries().size());
    assertTrue(edit.trusted().contains(root()));
  }

  @Test
  void howAStoreIsProtectedIsKept() throws IOException {
    Bundle bundle = Bundle.of(List.of(entry("ingest", INGEST)));
    for (Pkcs12Strength strength : List.of(Pkcs12Strength.WEAK, Pkcs12Strength.STRONG)) {
      byte[] octets =
          Conversion.of(bundle, Format.PKCS12, KeyForm.PKCS8, "x")
              .encode(
                  "x",
                  new SealOptions(
                      KeyForm.PKCS8, strength, Optional.of(secret("geheim")), Optional.empty()),
                  RANDOM)
              .content();
      Path path = file(folder, strength + ".p12", octets);
      StoreEdit edit = StoreEdit.open(path, surveyor("geheim"));
      assertEquals(strength, edit.strength());
      assertEquals(Format.PKCS12, edit.target());
      assertEquals(Snapshot.of(path).orElseThrow(), edit.snapshot());
      Files.write(path, new byte[1], java.nio.file.StandardOpenOption.APPEND);
      assertNotEquals(Snapshot.of(path).orElseThrow(), edit.snapshot());
    }
    assertEquals(
        Pkcs12Strength.STRONG,
        StoreEdit.open(store("JKS"), surveyor("geheim")).strength(),
        "a JKS has no choice");
  }

  @Test
  void whatIsNoKeystoreOrNotWhollyOpenIsNotChanged() throws Exception {
    Path pem = file(folder, "a.pem", pem(root()));
    SymbolonException none =
        assertThrows(SymbolonException.class, () -> StoreEdit.open(pem, surveyor()));
    assertTrue(none.seen().contains("not a keystore but PEM"), none.seen());
    Path locked = store("PKCS12");
    assertEquals(
        Reason.LOCKED,
        assertThrows(SymbolonException.class, () -> StoreEdit.open(locked, surveyor("falsch")))
            .reason());
    SymbolonException secret =
        assertThrows(
            SymbolonException.class, () -> StoreEdit.open(withSecretKey(), surveyor("geheim")));
    assertTrue(secret.seen().contains("secret keys"), secret.seen());
  }

  private Path withSecretKey() throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setEntry(
        "shared",
        new KeyStore.SecretKeyEntry(new SecretKeySpec(new byte[16], "AES")),
        new KeyStore.PasswordProtection("geheim".toCharArray()));
    java.io.ByteArrayOutputStream out = new java.io.ByteArrayOutputStream();
    store.store(out, "geheim".toCharArray());
    return file(folder, "shared.p12", out.toByteArray());
  }

  @Test
  void whatHasNoSuccessorIsTold() throws Exception {
    Survey old = surveyor("geheim").survey(List.of(store("PKCS12")));
    StoreEntry kept = entry("catalogue", CATALOGUE);
    StoreEntry trusted = new StoreEntry.Trusted("root", root());
    assertEquals(List.of(), told(old, entry("ingest", INGEST), kept, trusted));
    // A renewal: the same alias, or the same subject under another alias.
    assertEquals(List.of(), told(old, entry("Ingest", CATALOGUE), kept, trusted));
    assertEquals(List.of(), told(old, entry("new", RENEWED), kept, trusted));
    assertEquals(
        List.of(
            "The file that was replaced also held the private key 'ingest' of"
                + " ingest.lanternfish.example, the certificate 'root' of Lanternfish Root. The new"
                + " one does not hold them."),
        told(old, kept));
    assertEquals(
        List.of(
            "The file that was replaced also held the certificate 'root' of Lanternfish Root. The"
                + " new one does not hold it."),
        told(old, entry("ingest", RENEWED), kept));
    Finding finding = LeftBehind.of(old, Bundle.of(List.of(kept)), Path.of("store.p12")).get(0);
    assertEquals(FindingKind.NOT_TAKEN_OVER, finding.kind());
    assertEquals("store.p12", finding.where());
    assertEquals(1, finding.remedy().actions().size());
    Survey shared = surveyor("geheim").survey(List.of(withSecretKey()));
    assertTrue(
        told(shared, kept).get(0).contains("also held a secret key."),
        told(shared, kept).toString());
  }

  @Test
  void theOneKeyOfAFileWithoutNamesIsSucceededByWhatComes() {
    Survey bare = surveyor().survey(List.of(file(folder, "k.pem", keyPem(INGEST))));
    assertEquals(List.of(), told(bare, entry("any", CATALOGUE)));
    assertEquals(1, told(bare, new StoreEntry.Trusted("root", root())).size());
    Survey two =
        surveyor()
            .survey(
                List.of(
                    file(folder, "k.pem", keyPem(INGEST)),
                    file(folder, "l.pem", keyPem(CATALOGUE))));
    assertTrue(told(two, entry("any", CATALOGUE)).get(0).contains("private key without a name"));
  }

  @Test
  void ofVeryManyTheFirstAreNamed() {
    Certificate[] many =
        Collections.nCopies(7, 0).stream()
            .map(zero -> Lanternfish.server("b" + System.nanoTime() + ".example", KeyKind.EC_P256))
            .map(Credential::certificate)
            .toArray(Certificate[]::new);
    Survey old = surveyor().survey(List.of(file(folder, "many.pem", pem(many))));
    String told = told(old, new StoreEntry.Trusted("root", root())).get(0);
    assertTrue(told.contains(" and 2 more. The new one does not hold them."), told);
  }

  @Test
  void whatNoPasswordOpensIsNotSaidToBeComplete() {
    Survey old = surveyor("falsch").survey(List.of(store("PKCS12")));
    List<Finding> findings =
        LeftBehind.of(old, Bundle.of(List.of(entry("x", INGEST))), Path.of("store.p12"));
    assertEquals(
        List.of(FindingKind.REPLACED_NOT_COMPARED), findings.stream().map(Finding::kind).toList());
  }
}
