// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.SystemRoots;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.convert.SealOptions;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.format.Format;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.Fit;
import io.symbolon.key.KeyForm;
import io.symbolon.key.KeyKind;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.limit.Limits;
import io.symbolon.pem.PemWriter;
import io.symbolon.seal.DerivationBudget;
import io.symbolon.seal.Protection;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.interfaces.DSAPrivateKey;
import java.security.interfaces.DSAPublicKey;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The less ordinary of what administrators are handed. */
class FormatsTest {
  @TempDir Path folder;

  private static Survey survey(List<Path> paths, Secret... unlock) {
    return Surveyor.create()
        .withSystemRoots(SystemRoots.none())
        .withUnlock(List.of(unlock))
        .survey(paths);
  }

  private static List<String> ids(Survey survey) {
    return survey.findings().stream().map(Finding::id).toList();
  }

  private Path resource(String name) {
    try (InputStream in = PlatformStore.class.getResourceAsStream(name)) {
      return file(folder, name, java.util.Objects.requireNonNull(in).readAllBytes());
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  @Test
  void aDsaKeyOfTheOldFormIsTheSameKey() throws Exception {
    KeyPairGenerator pairs = KeyPairGenerator.getInstance("DSA");
    pairs.initialize(2048);
    KeyPair pair = pairs.generateKeyPair();
    var priv = (DSAPrivateKey) pair.getPrivate();
    byte[] old =
        Der.sequence(
            Der.integer(0),
            Der.integer(priv.getParams().getP()),
            Der.integer(priv.getParams().getQ()),
            Der.integer(priv.getParams().getG()),
            Der.integer(((DSAPublicKey) pair.getPublic()).getY()),
            Der.integer(priv.getX()));
    Survey survey =
        survey(List.of(file(folder, "old.pem", PemWriter.write("DSA PRIVATE KEY", old))));
    PrivateKeyInfo key = survey.matches().get(0).key().key().orElseThrow();
    assertEquals(pair.getPrivate(), key.toPrivateKey());
    assertArrayEquals(pair.getPublic().getEncoded(), key.publicHalf().orElseThrow().encoding());
    assertTrue(key.description().startsWith("DSA 2048"), key.description());
  }

  /** Where Java has ML-DSA the halves prove that they fit; elsewhere the key's beginning tells. */
  @Test
  void latticeKeysArePairedAndConvertedByteForByteOnEveryJava() {
    Path store = resource("ml-dsa.p12");
    Path key = resource("ml-dsa-key.pem");
    Survey survey = survey(List.of(key, store), secret("geheim"));
    assertEquals(1, survey.matches().size());
    Match match = survey.matches().get(0);
    assertEquals(2, match.keys().size());
    assertEquals(1, match.certificates().size());
    assertEquals(KeyKind.ML_DSA_65.isAvailable() ? Fit.FITS : Fit.NOT_CHECKED, match.fit());
    assertEquals(!KeyKind.ML_DSA_65.isAvailable(), ids(survey).contains("fit-not-checked"));
    byte[] before = match.key().key().orElseThrow().revealPkcs8();
    for (Format target : List.of(Format.PEM, Format.PKCS12, Format.JKS, Format.JCEKS)) {
      byte[] content =
          Conversion.plan(survey, ConvertOptions.everything(), target, KeyForm.PKCS8, "x")
              .encode("x", SealOptions.sealed(secret("geheim")), RANDOM)
              .content();
      FileSurvey read =
          Surveyor.create().withUnlock(List.of(secret("geheim"))).read(Path.of("x"), content);
      Holding.PrivateKey again = (Holding.PrivateKey) read.holdings().get(0);
      assertArrayEquals(before, again.key().orElseThrow().revealPkcs8(), target.title());
    }
  }

  @Test
  void anMlKemKeyFindsItsPublicHalf() {
    Survey survey = survey(List.of(resource("ml-kem-key.pem"), resource("ml-kem-public.pem")));
    assertEquals("ML-KEM-768", survey.matches().get(0).key().key().orElseThrow().description());
    assertEquals(1, survey.matches().get(0).publicKeys().size());
  }

  @Test
  void aKeyThatNothingIsKnownOfIsPairedByItsEntry() {
    byte[] pkcs8 =
        Der.sequence(
            Der.integer(0),
            Der.sequence(Der.oid(io.symbolon.oid.Oid.of("1.2.3.4.5"))),
            Der.octets(new byte[40]));
    byte[] half =
        Der.sequence(
            Der.sequence(Der.oid(io.symbolon.oid.Oid.of("1.2.3.4.5"))), Der.bits(new byte[33]));
    byte[] like = INGEST.certificate().encoding();
    byte[] own = INGEST.certificate().publicKey().encoding();
    byte[] forged = replaced(like, own, half);
    var certificate = io.symbolon.x509.Certificate.readWhole(forged);
    byte[] store =
        io.symbolon.store.Pkcs12Writer.write(
            List.of(
                new io.symbolon.entry.StoreEntry.KeyEntry(
                    "strange", PrivateKeyInfo.readPkcs8(pkcs8), List.of(certificate))),
            secret("geheim"),
            RANDOM);
    Survey survey = survey(List.of(file(folder, "s.p12", store)), secret("geheim"));
    assertEquals(List.of(certificate), survey.matches().get(0).certificates());
    assertEquals("1.2.3.4.5", survey.matches().get(0).key().key().orElseThrow().description());
  }

  /** The certificate with another public key; its signature is wrong then, which is no matter. */
  private static byte[] replaced(byte[] certificate, byte[] own, byte[] other) {
    var outer = Element.read(certificate).cursor();
    var fields = outer.next().cursor();
    List<byte[]> parts = new java.util.ArrayList<>();
    while (fields.hasNext()) {
      byte[] part = fields.next().encoding();
      parts.add(java.util.Arrays.equals(part, own) ? other : part);
    }
    return Der.sequence(Der.sequence(parts), outer.next().encoding(), outer.next().encoding());
  }

  @ParameterizedTest
  @CsvSource({"CERTIFICATE, PEM", "PKCS12, PKCS12", "JKS, JKS"})
  void base64WithoutBoundariesIsReadWhateverItHolds(String what, Format format) {
    byte[] content =
        what.equals("CERTIFICATE")
            ? root().encoding()
            : PlatformStore.of(what, "geheim", "geheim", root(), CATALOGUE);
    byte[] text = Base64.getMimeEncoder().encode(content);
    Survey survey = survey(List.of(file(folder, "secret.txt", text)), secret("geheim"));
    assertEquals(List.of(), survey.failures());
    assertEquals(format, survey.files().get(0).format());
    assertTrue(survey.certificates().containsKey(root()));
    assertTrue(ids(survey).contains("mangled-text"));
  }

  @Test
  void manglingIsToldWithItsLine() {
    String text =
        new String(io.symbolon.fixture.Lanternfish.pem(root()), StandardCharsets.US_ASCII);
    Survey survey =
        survey(
            List.of(
                file(folder, "reply.cer", "From: the authority\n\n" + text.replace("=", "=3D"))));
    assertTrue(survey.certificates().containsKey(root()));
    List<String> where =
        survey.findings().stream()
            .filter(f -> f.id().equals("mangled-text") || f.id().equals("text-layout"))
            .map(f -> f.where().replaceAll(".* ", ""))
            .toList();
    assertFalse(where.isEmpty());
    assertTrue(List.of("1", "3").containsAll(where), where.toString());
  }

  /** A password with umlauts, as one program spells it in UTF-8 and another in Latin-1. */
  @Test
  void passwordsOutsideOfAsciiOpenInEverySpelling() {
    Secret typed = secret("gr\u00fc\u00dfe");
    Secret spelled = typed.spellings().get(1);
    assertEquals(1, secret("geheim").spellings().size());
    for (Secret sealing : List.of(typed, spelled)) {
      for (Protection protection :
          List.of(Protection.strong(RANDOM, 50), Protection.forOldReaders(RANDOM, 50))) {
        byte[] sealed =
            EncryptedPrivateKeyInfo.seal(CATALOGUE.key(), protection, sealing).encoding();
        FileSurvey read = Surveyor.create().withUnlock(List.of(typed)).read(Path.of("k"), sealed);
        assertFalse(read.locked(), protection.description());
      }
    }
    byte[] jks = PlatformStore.of("JKS", "gr\u00fc\u00dfe", "gr\u00fc\u00dfe", root(), INGEST);
    assertFalse(Surveyor.create().withUnlock(List.of(typed)).read(Path.of("k"), jks).locked());
    typed.close();
    assertThrows(IllegalStateException.class, spelled::reveal);
  }

  @Test
  void theSumOfADerivationsOfAFileIsBounded() {
    DerivationBudget budget = new DerivationBudget();
    int pieces = Limits.ITERATIONS_PER_FILE / Limits.ITERATIONS;
    for (int i = 0; i < pieces; i++) {
      budget.take(Limits.ITERATIONS);
    }
    SymbolonException e = assertThrows(SymbolonException.class, () -> budget.take(1));
    assertEquals(Reason.LIMIT_PASSED, e.reason());
    // A file of many sealed keys, each within its own bound: refused before any time is spent.
    byte[] sealed =
        EncryptedPrivateKeyInfo.seal(
                CATALOGUE.key(), Protection.strong(RANDOM, 1), secret("geheim"))
            .encoding();
    byte[] huge = withRounds(sealed, Limits.ITERATIONS);
    byte[] bags = new byte[0];
    for (int i = 0; i < pieces + 1; i++) {
      byte[] bag = Der.sequence(Der.oid(Oids.SHROUDED_KEY_BAG), Der.context(0, huge));
      bags = java.util.Arrays.copyOf(bags, bags.length + bag.length);
      System.arraycopy(bag, 0, bags, bags.length - bag.length, bag.length);
    }
    byte[] content = Der.tagged(0x30, bags);
    byte[] part = Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(content)));
    byte[] pfx =
        Der.sequence(
            Der.integer(3),
            Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.sequence(part)))));
    FileSurvey read = Surveyor.create().read(Path.of("bomb.p12"), pfx);
    assertEquals(Reason.LIMIT_PASSED, read.failure().orElseThrow().reason());
    assertTrue(read.failure().orElseThrow().seen().contains("200000000"));
  }

  /** The same sealed key, asking for other rounds. */
  private static byte[] withRounds(byte[] sealed, int rounds) {
    var outer = Element.read(sealed).cursor();
    var scheme = outer.next().cursor();
    byte[] pbes2 = scheme.next().encoding();
    var parameters = scheme.next().cursor();
    var derivation = parameters.next().cursor();
    byte[] pbkdf2 = derivation.next().encoding();
    var values = derivation.next().cursor();
    byte[] salt = values.next().encoding();
    values.skip();
    byte[] prf = values.next().encoding();
    byte[] changed = Der.sequence(pbkdf2, Der.sequence(salt, Der.integer(rounds), prf));
    byte[] cipher = parameters.next().encoding();
    return Der.sequence(
        Der.sequence(pbes2, Der.sequence(changed, cipher)), outer.next().encoding());
  }

  @Test
  void weakProtectionIsCalledWeakWhereAKeyIsBehindIt() {
    Map<String, ProtectionWorth.Strength> expected =
        Map.of("JKS", ProtectionWorth.Strength.WEAK, "JCEKS", ProtectionWorth.Strength.WEAK);
    expected.forEach(
        (type, strength) -> {
          byte[] store = PlatformStore.of(type, "geheim", "geheim", root(), INGEST);
          FileSurvey read =
              Surveyor.create().withUnlock(List.of(secret("geheim"))).read(Path.of("k"), store);
          assertTrue(read.protections().stream().anyMatch(p -> p.strength() == strength), type);
          assertTrue(
              read.findings().stream().anyMatch(f -> f.id().equals("weak-protection")), type);
        });
    byte[] trust = PlatformStore.of("JKS", "geheim", "geheim", root());
    assertTrue(
        Surveyor.create()
            .withUnlock(List.of(secret("geheim")))
            .read(Path.of("t"), trust)
            .findings()
            .isEmpty(),
        "certificates are no secret");
    byte[] few =
        EncryptedPrivateKeyInfo.seal(
                CATALOGUE.key(), Protection.strong(RANDOM, 2048), secret("geheim"))
            .encoding();
    assertEquals(
        "few-rounds",
        Surveyor.create()
            .withUnlock(List.of(secret("geheim")))
            .read(Path.of("k"), few)
            .findings()
            .get(0)
            .id());
  }

  @ParameterizedTest
  @ValueSource(strings = {"PKCS12", "JKS", "JCEKS"})
  void anEmptyStoreIsAStoreAndCalledEmpty(String type) throws Exception {
    java.security.KeyStore store = java.security.KeyStore.getInstance(type);
    store.load(null, null);
    Path file = folder.resolve("empty");
    try (var out = java.nio.file.Files.newOutputStream(file)) {
      store.store(out, "pass word".toCharArray());
    }
    Survey survey =
        Surveyor.create().withUnlock(List.of(secret("pass word"))).survey(List.of(file));
    assertEquals(type, survey.files().get(0).format().name());
    assertEquals(List.of(), survey.failures());
    assertEquals(List.of("empty-store"), survey.findings().stream().map(f -> f.id()).toList());
  }
}
