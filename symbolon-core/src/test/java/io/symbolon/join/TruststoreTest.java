// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.SystemRoots;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is trusted, under which names, and what is said of the rest. */
class TruststoreTest {
  @TempDir Path folder;

  private static Survey survey(String password, Path... files) {
    return Surveyor.create()
        .withSystemRoots(SystemRoots.none())
        .withUnlock(List.of(secret(password)))
        .survey(List.of(files));
  }

  private static TruststoreContent select(Path... files) {
    return TrustSelector.select(survey("geheim", files), TrustSelector.Choice.AUTHORITIES);
  }

  private static List<String> aliases(TruststoreContent content) {
    return content.entries().stream().map(StoreEntry.Trusted::alias).toList();
  }

  private static Certificate authority(String name) {
    return Authority.root(
            DistinguishedName.parse(name), KeyKind.EC_P256, NOW, YEAR, Lanternfish.RANDOM)
        .certificate();
  }

  private Path platform(String name, String type, Map<String, Certificate> trusted)
      throws Exception {
    KeyStore store = KeyStore.getInstance(type);
    store.load(null, null);
    for (Map.Entry<String, Certificate> one : trusted.entrySet()) {
      store.setCertificateEntry(one.getKey(), one.getValue().toX509Certificate());
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, "geheim".toCharArray());
    return file(folder, name, out.toByteArray());
  }

  private static String told(TruststoreContent content, FindingKind kind) {
    return content.findings().stream()
        .filter(finding -> finding.is(kind))
        .map(Finding::statement)
        .findFirst()
        .orElse("");
  }

  @ParameterizedTest
  @CsvSource({
    "'CN=Lanternfish Root, O=Lanternfish Observatory', lanternfish-root",
    "'OU=Buoys, O=Lanternfish Observatory', buoys",
    "'O=Lanternfish Observatory', lanternfish-observatory",
    "'C=IS', certificate",
    "'CN=Éclair & Söhne', eclair-sohne",
    "'CN=--..--', certificate",
  })
  void anAliasIsReadable(String subject, String alias) {
    assertEquals(alias, Aliases.readable(authority(subject)));
  }

  @Test
  void aHostStandsForACertificateWithoutASubject() {
    Certificate nobody =
        Lanternfish.ISSUING
            .issue(
                DistinguishedName.parse(""),
                KeyKind.EC_P256,
                List.of(HostName.parse("*.lanternfish.example")),
                Use.SERVER,
                NOW,
                YEAR)
            .certificate();
    assertEquals("wildcard.lanternfish.example", Aliases.readable(nobody));
  }

  @Test
  void aliasesOfTheSameNameAreNumbered() {
    Set<String> taken = new HashSet<>();
    List<String> made = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      made.add(Aliases.unique(root(), taken));
    }
    assertEquals(
        List.of(
            "lanternfish-root", "lanternfish-root-2", "lanternfish-root-3", "lanternfish-root-4"),
        made);
  }

  @Test
  void theNamesOfAnotherTruststoreAreKept() throws Exception {
    Map<String, Certificate> trusted = new LinkedHashMap<>();
    trusted.put("house root", root());
    trusted.put("y".repeat(101), issuing());
    TruststoreContent content = select(platform("a.p12", "PKCS12", trusted));
    assertEquals(Set.of("house root", "lanternfish-issuing-a"), Set.copyOf(aliases(content)));
    assertEquals(content.entries(), content.added());
    // A name that is taken, in whatever case, is not given twice.
    Path other = platform("b.p12", "PKCS12", Map.of("House Root", authority("CN=Other")));
    TruststoreContent both = select(folder.resolve("a.p12"), other);
    assertEquals(3, both.entries().size());
    assertTrue(aliases(both).contains("other"), aliases(both).toString());
  }

  @Test
  void whatIsLeftOutIsNamed() {
    Path all = file(folder, "all.pem", pem(root(), INGEST.certificate(), CATALOGUE.certificate()));
    String two = told(select(all), FindingKind.END_ENTITY_LEFT_OUT);
    assertTrue(
        two.endsWith("left out: ingest.lanternfish.example, catalogue.lanternfish.example."), two);
    List<Certificate> many = new ArrayList<>(List.of(root()));
    for (int i = 0; i < 7; i++) {
      many.add(Lanternfish.server("b" + i + ".lanternfish.example", KeyKind.EC_P256).certificate());
    }
    Path seven = file(folder, "seven.pem", pem(many.toArray(Certificate[]::new)));
    String told = told(select(seven), FindingKind.END_ENTITY_LEFT_OUT);
    assertTrue(told.endsWith("b4.lanternfish.example and 2 more."), told);
    TruststoreContent everything =
        TrustSelector.select(survey("x", seven), TrustSelector.Choice.ALL);
    assertEquals(8, everything.entries().size());
    assertEquals("", told(everything, FindingKind.END_ENTITY_LEFT_OUT));
    assertEquals("", told(everything, FindingKind.NO_AUTHORITY));
  }

  @Test
  void privateKeysAreLeftOutAndCounted() {
    Path key = file(folder, "key.pem", concat(keyPem(INGEST), pem(root())));
    assertTrue(
        told(select(key), FindingKind.KEY_LEFT_OUT).startsWith("The private key in this file"));
    Path two =
        file(folder, "two.pem", concat(keyPem(INGEST), concat(keyPem(CATALOGUE), pem(root()))));
    assertTrue(
        told(select(two), FindingKind.KEY_LEFT_OUT).startsWith("The 2 private keys in this file"));
    assertEquals("", told(select(file(folder, "r.pem", pem(root()))), FindingKind.KEY_LEFT_OUT));
  }

  private static byte[] concat(byte[] one, byte[] other) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    out.writeBytes(one);
    out.writeBytes(other);
    return out.toByteArray();
  }

  @Test
  void whereThereIsNothingToTrustTheReasonIsTold() throws Exception {
    Path note = file(folder, "note.txt", "nothing");
    SymbolonException none = assertThrows(SymbolonException.class, () -> select(note));
    assertTrue(
        none.reason() == Reason.NOT_FOUND || none.reason() == Reason.NOT_UNDERSTOOD,
        none.toString());
    Path locked = platform("locked.p12", "PKCS12", Map.of("root", root()));
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> TrustSelector.select(survey("falsch", locked), TrustSelector.Choice.AUTHORITIES));
    assertEquals(Reason.LOCKED, e.reason());
  }

  @Test
  void whatIsAddedToIsKeptAndMustBeProven() throws Exception {
    Map<String, Certificate> trusted = new LinkedHashMap<>();
    trusted.put("house root", root());
    Path store = platform("a.jks", "JKS", trusted);
    Path more = file(folder, "more.pem", pem(root(), issuing()));
    TruststoreContent added =
        TrustSelector.add(
            survey("geheim", store).files().get(0),
            survey("geheim", more),
            TrustSelector.Choice.AUTHORITIES);
    assertEquals(List.of("house root", "lanternfish-issuing-a"), aliases(added));
    assertEquals(1, added.added().size());
    assertTrue(told(added, FindingKind.ALREADY_THERE).contains("Lanternfish Root"));
    assertEquals(2, added.toEntries().size());
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () ->
                TrustSelector.add(
                    survey("falsch", store).files().get(0),
                    survey("geheim", more),
                    TrustSelector.Choice.AUTHORITIES));
    assertEquals(Reason.LOCKED, e.reason());
  }
}
