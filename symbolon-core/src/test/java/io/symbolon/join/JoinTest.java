// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.pile;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.fixture.Forge;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import io.symbolon.store.Pkcs12Writer;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.HostName;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class JoinTest {
  private static final Surveyor SURVEYOR =
      Surveyor.create().withSystemRoots(SystemRoots.none()).withUnlock(List.of(secret("geheim")));

  @TempDir Path folder;

  private Survey survey() {
    return SURVEYOR.survey(List.of(folder));
  }

  private SymbolonException refused(JoinOptions options) {
    return assertThrows(SymbolonException.class, () -> Joiner.join(survey(), options));
  }

  @Test
  void aPileInAnyOrderBecomesOneCredentialWithoutItsRoot() {
    pile(folder);
    Joined joined = Joiner.join(survey(), JoinOptions.standard());
    assertEquals(HOST_ALIAS, joined.alias());
    assertEquals(List.of(INGEST.certificate(), issuing()), joined.credential().chain());
    assertEquals(List.of(), joined.findings());
  }

  private static final String HOST_ALIAS = "ingest.lanternfish.example";

  @Test
  void theRootIsTakenWhereItIsAskedFor() {
    pile(folder);
    Joined joined = Joiner.join(survey(), JoinOptions.standard().with(JoinOptions.Root.INCLUDED));
    assertEquals(List.of(INGEST.certificate(), issuing(), root()), joined.credential().chain());
  }

  @Test
  void anIncompleteChainIsRefusedWithTheNameOfWhatIsMissing() {
    file(folder, "key", keyPem(INGEST));
    file(folder, "reply", pem(INGEST.certificate(), root()));
    SymbolonException e = refused(JoinOptions.standard());
    assertEquals(Reason.INCOMPLETE, e.reason());
    assertTrue(e.seen().contains("CN=Lanternfish Issuing A"), e.seen());
    assertEquals(List.of(Action.again(Input.INCOMPLETE_CHAIN)), e.remedy().actions());

    Joined accepted =
        Joiner.join(survey(), JoinOptions.standard().with(JoinOptions.Incomplete.ACCEPTED));
    assertEquals(List.of(INGEST.certificate()), accepted.credential().chain());
    assertEquals("incomplete-chain", accepted.findings().get(0).id());
  }

  /**
   * A signature of an algorithm that nobody knows, and one that a root with the exponent 1 made.
   */
  @Test
  void aChainThatNobodyVerifiedIsNotCompleteAndNotJoinedUnlessItIsAskedFor() throws Exception {
    byte[] unknown = Der.sequence(Der.oid(Oid.of("1.3.6.1.4.1.99999.7")));
    byte[] junk =
        Der.sequence(
            Forge.tbs(
                INGEST.certificate(),
                unknown,
                Forge.extension(Oids.BASIC_CONSTRAINTS, Der.sequence())),
            unknown,
            Der.bits(new byte[64]));
    SubjectPublicKeyInfo worthless =
        SubjectPublicKeyInfo.ofRsaPublicKey(
            Element.read(
                Der.sequence(
                    Der.integer(BigInteger.ONE.shiftLeft(2047).setBit(0)), Der.integer(1))));
    Certificate fake =
        CertificateBuilder.of(issuing().subject(), worthless)
            .validity(NOW, NOW.plus(YEAR))
            .authority(OptionalInt.empty())
            .signSelf(KeyKind.RSA_2048.generate(RANDOM).getPrivate(), RANDOM);
    for (List<byte[]> certificates :
        List.of(
            List.of(junk, issuing().encoding(), root().encoding()),
            List.of(INGEST.certificate().encoding(), fake.encoding()))) {
      Path pile = Files.createTempDirectory(folder, "pile");
      file(pile, "key.pem", keyPem(INGEST));
      for (int i = 0; i < certificates.size(); i++) {
        file(pile, i + ".der", certificates.get(i));
      }
      Survey survey = Surveyor.create().survey(List.of(pile));
      assertFalse(survey.matches().get(0).chain().orElseThrow().isComplete());
      SymbolonException refused =
          assertThrows(
              SymbolonException.class,
              () ->
                  Joiner.join(
                      survey, JoinOptions.standard().with(JoinOptions.Incomplete.ACCEPTED)));
      assertEquals(Reason.INCOMPLETE, refused.reason());
      assertTrue(refused.statement().contains("not proven"), refused.statement());
      Joined joined =
          Joiner.join(survey, JoinOptions.standard().with(JoinOptions.Unchecked.ACCEPTED));
      assertFalse(joined.chain().isComplete());
      assertTrue(
          joined.findings().stream()
              .anyMatch(
                  finding ->
                      finding.id().equals("signature-not-checked")
                          && finding.level() == Level.PROBLEM),
          joined.findings().toString());
    }
  }

  @Test
  void aKeystoreOfOurOwnNeedsNoNextJoin() {
    file(
        folder,
        "server.p12",
        Pkcs12Writer.write(
            List.of(
                new StoreEntry.KeyEntry(
                    "ingest", INGEST.key(), List.of(INGEST.certificate(), issuing()))),
            secret("geheim"),
            RANDOM));
    Survey survey = survey();
    assertTrue(
        survey.nextSteps().stream()
            .flatMap(step -> step.action().stream())
            .noneMatch(action -> action.task() == Task.JOIN));
    // Written anew it holds what it held, and what was not checked is told once.
    Joined joined = Joiner.join(survey, JoinOptions.standard());
    assertEquals(List.of(INGEST.certificate(), issuing()), joined.credential().chain());
    assertTrue(
        joined.findings().stream().anyMatch(f -> f.is(FindingKind.ROOT_NOT_AT_HAND)),
        joined.findings().toString());
  }

  @Test
  void severalKeysAreListedAndOneIsChosenByAlias() {
    pile(folder);
    file(folder, "catalogue.pem", keyPem(CATALOGUE));
    file(folder, "catalogue.cer", pem(CATALOGUE.certificate()));
    SymbolonException e = refused(JoinOptions.standard());
    assertEquals(Reason.AMBIGUOUS, e.reason());
    assertTrue(e.seen().contains("'catalogue.lanternfish.example'"), e.seen());
    assertTrue(e.seen().contains("'ingest.lanternfish.example'"), e.seen());
    assertEquals(Reason.AMBIGUOUS, refused(JoinOptions.standard().withAlias("x")).reason());

    Joined joined =
        Joiner.join(survey(), JoinOptions.standard().withAlias("CATALOGUE.lanternfish.example"));
    assertEquals(CATALOGUE.certificate(), joined.credential().certificate());
  }

  @Test
  void aKeyWithoutACertificateDoesNotMakeTheOtherAmbiguous() {
    pile(folder);
    file(folder, "left-over.pem", keyPem(CATALOGUE));
    assertEquals(
        INGEST.certificate(),
        Joiner.join(survey(), JoinOptions.standard()).credential().certificate());
  }

  @Test
  void aKeyThatFitsNothingIsRefused() {
    file(folder, "key", keyPem(CATALOGUE));
    file(folder, "others", pem(INGEST.certificate(), issuing(), root()));
    SymbolonException e = refused(JoinOptions.standard());
    assertEquals(Reason.DOES_NOT_FIT, e.reason());
    assertTrue(e.seen().contains("ingest.lanternfish.example belongs to another key"), e.seen());
  }

  @Test
  void noKeyAtAllIsSaidSo() {
    file(folder, "bundle", pem(INGEST.certificate(), issuing(), root()));
    assertEquals(Reason.NOT_FOUND, refused(JoinOptions.standard()).reason());
  }

  @Test
  void whatIsDamagedIsNamedWhereItMayBeWhatIsMissing() {
    file(folder, "key", keyPem(INGEST));
    file(folder, "reply", pem(INGEST.certificate(), root()));
    file(folder, "intermediate", "-----BEGIN CERTIFICATE-----\nMIIB\n");
    SymbolonException e = refused(JoinOptions.standard());
    assertEquals(Reason.NOT_UNDERSTOOD, e.reason());
    assertTrue(e.statement().contains("intermediate"), e.statement());
  }

  @Test
  void theRenewedCertificateIsTakenBeforeTheOldOne() {
    Certificate renewed =
        ISSUING.sign(
            name(HOST_ALIAS),
            INGEST.certificate().publicKey(),
            List.of(HostName.parse(HOST_ALIAS)),
            Use.SERVER,
            NOW.plus(Duration.ofMinutes(5)),
            YEAR);
    pile(folder);
    file(folder, "renewed.cer", renewed.encoding());
    Joined joined = Joiner.join(survey(), JoinOptions.standard());
    assertEquals(renewed, joined.credential().certificate());
    assertEquals("several-certificates", joined.findings().get(0).id());
  }

  @Test
  void theEntryOfAKeystoreKeepsItsAlias() {
    file(
        folder,
        "old.p12",
        Pkcs12Writer.write(
            List.of(new StoreEntry.KeyEntry("tomcat", INGEST.key(), INGEST.chain())),
            secret("geheim"),
            RANDOM));
    assertEquals("tomcat", Joiner.join(survey(), JoinOptions.standard()).alias());
    assertEquals("other", Joiner.join(survey(), JoinOptions.standard().withAlias("other")).alias());
  }

  @Test
  void aTruststoreTakesTheAuthoritiesAndLeavesTheKeyOut() {
    pile(folder);
    TruststoreContent trust = TrustSelector.select(survey(), TrustSelector.Choice.AUTHORITIES);
    assertEquals(
        List.of("lanternfish-root", "lanternfish-issuing-a"),
        trust.entries().stream().map(StoreEntry.Trusted::alias).toList());
    assertEquals(
        List.of("key-left-out", "end-entity-left-out"),
        trust.findings().stream().map(Finding::id).toList());

    TruststoreContent all = TrustSelector.select(survey(), TrustSelector.Choice.ALL);
    assertEquals(3, all.entries().size());
  }

  @Test
  void whereThereIsNoAuthorityTheCertificatesThemselvesAreTrusted() {
    file(folder, "server.cer", pem(INGEST.certificate()));
    TruststoreContent trust = TrustSelector.select(survey(), TrustSelector.Choice.AUTHORITIES);
    assertEquals(INGEST.certificate(), trust.entries().get(0).certificate());
    assertEquals("no-authority", trust.findings().get(0).id());
  }

  @Test
  void aliasesAreUnique() {
    Authority other = Authority.root(root().subject(), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    file(folder, "roots", pem(root(), other.certificate()));
    assertEquals(
        List.of("lanternfish-root", "lanternfish-root-2"),
        TrustSelector.select(survey(), TrustSelector.Choice.AUTHORITIES).entries().stream()
            .map(StoreEntry.Trusted::alias)
            .toList());
  }

  @Test
  void addingKeepsWhatIsThereAndAddsNothingTwice(@TempDir Path elsewhere) {
    Path existing =
        file(
            elsewhere,
            "trust.p12",
            Pkcs12Writer.write(
                List.of(new StoreEntry.Trusted("our-root", root())), secret("geheim"), RANDOM));
    pile(folder);
    var present = SURVEYOR.survey(List.of(existing)).files().get(0);
    TruststoreContent trust =
        TrustSelector.add(present, survey(), TrustSelector.Choice.AUTHORITIES);
    assertEquals(
        List.of("our-root", "lanternfish-issuing-a"),
        trust.entries().stream().map(StoreEntry.Trusted::alias).toList());
    assertEquals(1, trust.added().size());
    assertTrue(trust.findings().stream().anyMatch(f -> f.id().equals("already-there")));
  }

  @Test
  void aKeystoreWithAKeyIsNoTruststoreToAddTo(@TempDir Path elsewhere) {
    Path keystore =
        file(
            elsewhere,
            "key.p12",
            Pkcs12Writer.write(
                List.of(new StoreEntry.KeyEntry("ingest", INGEST.key(), INGEST.chain())),
                secret("geheim"),
                RANDOM));
    pile(folder);
    var present = SURVEYOR.survey(List.of(keystore)).files().get(0);
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> TrustSelector.add(present, survey(), TrustSelector.Choice.AUTHORITIES));
    assertTrue(e.seen().contains("a private key"), e.seen());
  }

  @Test
  void anAliasThatNamesNoKeyNamesTheResultOfTheOneThatHasACertificate() {
    file(folder, "stray.key", keyPem(CATALOGUE));
    file(folder, "ingest.key", keyPem(INGEST));
    file(folder, "ingest.pem", pem(INGEST.certificate(), issuing(), root()));
    Joined joined =
        Joiner.join(
            Surveyor.create().survey(List.of(folder)), JoinOptions.standard().withAlias("tomcat"));
    assertEquals("tomcat", joined.alias());
    assertEquals(INGEST.certificate(), joined.credential().certificate());
  }
}
