// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.pile;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.SystemRoots;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is taken of a content, under which names, and what is said of the rest. */
class ConversionTest {
  @TempDir Path folder;

  private static Survey survey(List<Path> paths, Secret... unlock) {
    return Surveyor.create()
        .withSystemRoots(SystemRoots.none())
        .withUnlock(List.of(unlock))
        .survey(paths);
  }

  /** Everything that a file holds. */
  static Bundle arranged(byte[] content, Secret secret) {
    try {
      Path temporary = Files.createTempFile("symbolon", ".any");
      Files.write(temporary, content);
      Survey survey = survey(List.of(temporary), secret);
      assertEquals(List.of(), survey.failures());
      Files.delete(temporary);
      return new Packer(Arranger.arrange(survey), ConvertOptions.everything(), NOW).pack();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  private Conversion plan(ConvertOptions options, Format target, Path... paths) {
    return Conversion.plan(
        survey(List.of(paths), secret("geheim"), secret("noch geheimer")),
        options,
        target,
        KeyForm.PKCS8,
        "out");
  }

  private Path store(String type, String keyPassword) {
    return file(
        folder,
        "store." + type.toLowerCase(java.util.Locale.ROOT),
        PlatformStore.of(type, "geheim", keyPassword, root(), INGEST, CATALOGUE));
  }

  private static List<String> ids(Conversion conversion) {
    return conversion.findings().stream().map(Finding::id).toList();
  }

  private static List<Certificate> certificates(Conversion conversion) {
    return List.copyOf(conversion.bundle().certificates());
  }

  @Test
  void thePartsOfAPile() {
    Path pile = pile(folder);
    assertEquals(
        List.of(INGEST.certificate()),
        certificates(plan(ConvertOptions.of(ContentPart.CERTIFICATE), Format.PEM, pile)));
    Conversion chain = plan(ConvertOptions.of(ContentPart.CHAIN), Format.PEM, pile);
    assertEquals(List.of(issuing()), certificates(chain));
    assertEquals(List.of("root-left-out"), ids(chain));
    Conversion full = plan(ConvertOptions.of(ContentPart.FULL_CHAIN), Format.PEM, pile);
    assertEquals(List.of(INGEST.certificate(), issuing()), certificates(full));
    assertFalse(full.holdsKeys());
    Conversion withRoot =
        plan(
            new ConvertOptions(
                Set.of(ContentPart.FULL_CHAIN), List.of(), List.of(), Map.of(), true),
            Format.PEM,
            pile);
    assertEquals(List.of(INGEST.certificate(), issuing(), root()), certificates(withRoot));
    Conversion key = plan(ConvertOptions.of(ContentPart.KEY), Format.PEM, pile);
    assertTrue(key.holdsKeys());
    assertEquals(List.of(), certificates(key));
    Conversion both =
        plan(ConvertOptions.of(ContentPart.KEY, ContentPart.FULL_CHAIN), Format.PEM, pile);
    assertTrue(both.holdsKeys());
    assertEquals(List.of(INGEST.certificate(), issuing()), certificates(both));
    Conversion everything = plan(ConvertOptions.everything(), Format.PEM, pile);
    assertEquals(List.of(INGEST.certificate(), issuing(), root()), certificates(everything));
    Conversion half = plan(ConvertOptions.of(ContentPart.PUBLIC_KEY), Format.DER, pile);
    assertEquals(List.of(INGEST.certificate().publicKey()), half.bundle().publicKeys());
    assertFalse(half.needsSeal());
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> plan(ConvertOptions.of(ContentPart.REQUEST), Format.PEM, pile));
    assertEquals(Reason.NOT_FOUND, e.reason());
  }

  @Test
  void certificatesWithoutAKeyAreSplitByTheirChains() {
    Path bundle = file(folder, "b.crt", pem(root(), CATALOGUE.certificate(), issuing()));
    assertEquals(
        List.of(CATALOGUE.certificate()),
        certificates(plan(ConvertOptions.of(ContentPart.CERTIFICATE), Format.DER, bundle)));
    assertEquals(
        List.of(CATALOGUE.certificate(), issuing()),
        certificates(plan(ConvertOptions.of(ContentPart.FULL_CHAIN), Format.PEM, bundle)));
  }

  @Test
  void wherePublicPartsAreWantedNoKeyIsInTheResult() {
    Path store = store("PKCS12", "geheim");
    for (ContentPart part :
        List.of(ContentPart.CERTIFICATE, ContentPart.FULL_CHAIN, ContentPart.PUBLIC_KEY)) {
      for (Format target : List.of(Format.PEM, Format.JKS, Format.PKCS12)) {
        if (part == ContentPart.PUBLIC_KEY && target != Format.PEM) {
          continue; // keystores have no place for them
        }
        Conversion conversion = plan(ConvertOptions.of(part), target, store);
        SealOptions wrapping =
            target.isStore() ? SealOptions.sealed(secret("geheim")) : SealOptions.open();
        EncodedFile file = conversion.encode("out", wrapping, RANDOM);
        assertFalse(file.secret());
        FileSurvey read =
            Surveyor.create()
                .withUnlock(List.of(secret("geheim")))
                .read(Path.of("out"), file.content());
        assertFalse(read.isEmpty());
        assertTrue(read.holdings().stream().noneMatch(h -> h instanceof Holding.PrivateKey));
      }
    }
    Bundle withKey = Bundle.of(List.of(new StoreEntry.KeyEntry("x", INGEST.key(), INGEST.chain())));
    byte[] leaky = new Encoder(SealOptions.open(), RANDOM).encode(withKey, Format.PEM);
    Bundle without = Bundle.of(List.of(new StoreEntry.Trusted("x", INGEST.certificate())));
    assertThrows(
        SymbolonException.class,
        () ->
            ReadBackProof.check(
                List.of(new EncodedFile("x", leaky, false)), without, SealOptions.open()));
  }

  @Test
  void entriesAreChosenAndRenamed() throws Exception {
    Path store = store("JKS", "geheim");
    ConvertOptions one =
        ConvertOptions.everything()
            .withAliases(List.of("INGEST"))
            .withRenames(Map.of("ingest", "tomcat"));
    EncodedFile file =
        plan(one, Format.PKCS12, store).encode("out", SealOptions.sealed(secret("geheim")), RANDOM);
    KeyStore read = PlatformStore.load("PKCS12", file.content(), "geheim");
    assertEquals(1, read.size());
    assertTrue(read.isKeyEntry("tomcat"));
    assertEquals(
        3, plan(ConvertOptions.everything(), Format.PKCS12, store).bundle().entries().size());
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () ->
                plan(ConvertOptions.everything().withAliases(List.of("buoy")), Format.PEM, store));
    assertEquals(Reason.NOT_FOUND, e.reason());
    assertTrue(e.seen().contains("'catalogue', 'ingest', 'root'") || e.seen().contains("'ingest'"));
  }

  @Test
  void aKeysOwnPasswordSurvivesWhereTheTargetHasAPlaceForIt() throws Exception {
    Path store = store("JKS", "noch geheimer");
    Conversion conversion = plan(ConvertOptions.everything(), Format.JCEKS, store);
    assertTrue(ids(conversion).contains("key-password-kept"), ids(conversion).toString());
    EncodedFile file = conversion.encode("out", SealOptions.sealed(secret("neu neu neu")), RANDOM);
    KeyStore read = PlatformStore.load("JCEKS", file.content(), "neu neu neu");
    assertEquals(INGEST.key().toPrivateKey(), read.getKey("ingest", "noch geheimer".toCharArray()));
    assertThrows(
        java.security.UnrecoverableKeyException.class,
        () -> read.getKey("ingest", "neu neu neu".toCharArray()));
    assertTrue(
        ids(plan(ConvertOptions.everything(), Format.PEM, store)).contains("key-password-left"));
  }

  @Test
  void whatAFormatHasNoPlaceForIsSaid() {
    Path store = store("PKCS12", "geheim");
    Conversion bundle = plan(ConvertOptions.everything(), Format.PKCS7, store);
    assertTrue(bundle.findings().get(0).statement().contains("2 private keys are left out"));
    assertFalse(bundle.holdsKeys());
    assertEquals(
        Set.of(INGEST.certificate(), CATALOGUE.certificate(), issuing(), root()),
        bundle.bundle().certificates());
    Path key = file(folder, "key.pem", keyPem(INGEST));
    SymbolonException e =
        assertThrows(
            SymbolonException.class, () -> plan(ConvertOptions.everything(), Format.PKCS7, key));
    assertTrue(e.seen().contains("1 private key is left out"), e.seen());
    Path half =
        file(
            folder,
            "half.pub",
            io.symbolon.pem.PemWriter.write(
                "PUBLIC KEY", INGEST.certificate().publicKey().encoding()));
    assertTrue(
        ids(plan(ConvertOptions.everything(), Format.PKCS12, store, half)).contains("left-out"));
    SymbolonException alone =
        assertThrows(
            SymbolonException.class,
            () ->
                plan(ConvertOptions.everything(), Format.JKS, key)
                    .encode("out", SealOptions.sealed(secret("geheim")), RANDOM));
    assertTrue(alone.seen().contains("has no certificate"), alone.seen());
  }

  @Test
  void aFileForEachObjectWithSafeNames() {
    String evil = "../../etc/CON";
    Bundle bundle =
        Bundle.of(
            List.of(
                new StoreEntry.KeyEntry(evil, INGEST.key(), INGEST.chain()),
                new StoreEntry.KeyEntry(evil, CATALOGUE.key(), List.of()),
                new StoreEntry.Trusted("Tiefsee Wurzel ü", root()),
                new StoreEntry.Trusted("nul", CATALOGUE.certificate())));
    List<EncodedFile> files =
        new Encoder(SealOptions.open(), RANDOM).encodeEach(bundle, Format.PEM);
    ReadBackProof.check(files, bundle, SealOptions.open());
    assertEquals(
        List.of(
            "etc-con-key.pem",
            "etc-con-certificate.pem",
            "lanternfish-issuing-a-certificate.pem",
            "tiefsee-wurzel-u-certificate.pem",
            "etc-con-key-2.pem",
            "entry-nul-certificate.pem"),
        files.stream().map(EncodedFile::name).toList());
    assertEquals(
        List.of(true, false, false, false, true, false),
        files.stream().map(EncodedFile::secret).toList());
  }

  @Test
  void whatIsLockedOrDamagedIsNotPassedOver() {
    Path store =
        file(folder, "s.p12", PlatformStore.of("PKCS12", "wer weiss", "wer weiss", root(), INGEST));
    assertEquals(
        Reason.LOCKED,
        assertThrows(
                SymbolonException.class, () -> plan(ConvertOptions.everything(), Format.PEM, store))
            .reason());
    byte[] cut = Arrays.copyOf(INGEST.certificate().encoding(), 700);
    Path damaged = file(folder, "cut.der", cut);
    Path good = file(folder, "root.pem", pem(root()));
    assertEquals(
        Reason.NOT_UNDERSTOOD,
        assertThrows(
                SymbolonException.class,
                () -> plan(ConvertOptions.everything(), Format.PEM, good, damaged))
            .reason());
    Path jks = store("JKS", "unbekannt");
    Conversion open = plan(ConvertOptions.of(ContentPart.CERTIFICATE), Format.PEM, jks);
    assertTrue(ids(open).contains("locked"), "certificates of a JKS need no password");
  }

  @Test
  void severalFilesBecomeOneAndNothingIsThereTwice() {
    Path key = file(folder, "k.pem", keyPem(INGEST));
    Path reply = file(folder, "r.der", INGEST.certificate().encoding());
    Path chain = file(folder, "c.pem", pem(root(), issuing(), INGEST.certificate()));
    Path again = file(folder, "again.pem", keyPem(INGEST));
    Conversion glued = plan(ConvertOptions.everything(), Format.PEM, key, reply, chain, again);
    assertEquals(1, glued.bundle().credentials().size());
    assertEquals(
        List.of(INGEST.certificate(), issuing(), root()),
        glued.bundle().credentials().get(0).chain());
    assertEquals(1, glued.bundle().entries().size());
    assertEquals(Optional.of("ingest.lanternfish.example"), glued.bundle().entries().get(0).name());
  }

  @Test
  void severalKeysInOnePemFileAreAskedAbout() {
    Conversion two = plan(ConvertOptions.everything(), Format.PEM, store("PKCS12", "geheim"));
    SymbolonException e = assertThrows(SymbolonException.class, two::checkOneKey);
    assertEquals(Reason.AMBIGUOUS, e.reason());
    assertTrue(e.seen().contains("'ingest'") && e.seen().contains("'catalogue'"), e.seen());
  }

  @Test
  void whatAFileSaysOfItselfIsNotForgotten() {
    // A key with the certificate of another, as a hand that was in a hurry leaves it.
    byte[] store =
        io.symbolon.store.JavaStoreWriter.write(
            io.symbolon.store.JavaStoreWriter.StoreType.JKS,
            List.of(
                new StoreEntry.KeyEntry(
                    "mixed", INGEST.key(), List.of(CATALOGUE.certificate(), issuing()))),
            secret("geheim"),
            RANDOM);
    Conversion mixed =
        plan(ConvertOptions.everything(), Format.PKCS12, file(folder, "mixed.jks", store));
    assertTrue(ids(mixed).contains("key-does-not-fit"), ids(mixed).toString());
    assertTrue(Finding.anyProblem(mixed.findings()));
    String dh = "-----BEGIN DH PARAMETERS-----\nMAYCAQUCAQI=\n-----END DH PARAMETERS-----\n";
    Path text =
        file(
            folder,
            "dh.pem",
            dh + new String(pem(root()), java.nio.charset.StandardCharsets.US_ASCII));
    assertTrue(ids(plan(ConvertOptions.everything(), Format.DER, text)).contains("unknown-block"));
    Path trust =
        file(folder, "trust.jks", PlatformStore.of("JKS", "unbekannt", "unbekannt", root()));
    assertTrue(
        ids(plan(ConvertOptions.everything(), Format.PEM, trust))
            .contains("integrity-not-checked"));
  }
}
