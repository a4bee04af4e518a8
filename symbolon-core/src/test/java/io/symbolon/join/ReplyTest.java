// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.convert.Conversion;
import io.symbolon.convert.SealOptions;
import io.symbolon.convert.StoreEdit;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.KeyStore;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Replies to keys that wait in keystores the platform has written, among other entries. */
class ReplyTest {
  private static final char[] PASSWORD = "changed it".toCharArray();
  private static final RequestDraft DRAFT =
      RequestDraft.of(name("a.lanternfish.example"), List.of(), Use.SERVER);

  @TempDir Path temp;

  private static Certificate reply(KeyPair pair) {
    return ISSUING.sign(
        new SigningOrder(DRAFT, Lifetime.days(90)), SubjectPublicKeyInfo.of(pair.getPublic()), NOW);
  }

  private Path keystore(String type, KeyPair pair, Certificate certificate) throws Exception {
    KeyStore store = KeyStore.getInstance(type);
    store.load(null, null);
    KeyPair other = KeyKind.EC_P256.generate(RANDOM);
    Certificate otherCertificate = reply(other);
    store.setKeyEntry("other", other.getPrivate(), PASSWORD, chain(otherCertificate, issuing()));
    store.setCertificateEntry("trusted", root().toX509Certificate());
    store.setKeyEntry("waiting here", pair.getPrivate(), PASSWORD, chain(certificate));
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, PASSWORD);
    return file(temp, "store", out.toByteArray());
  }

  private static java.security.cert.Certificate[] chain(Certificate... chain) {
    return Arrays.stream(chain)
        .map(Certificate::toX509Certificate)
        .toArray(java.security.cert.Certificate[]::new);
  }

  private static Surveyor surveyor() {
    return Surveyor.create().withUnlock(List.of(secret("changed it")));
  }

  @ParameterizedTest
  @ValueSource(strings = {"PKCS12", "JKS", "JCEKS"})
  void theWaitingEntryIsCompletedAndEveryOtherStays(String type) throws Exception {
    KeyPair pair = KeyKind.RSA_2048.generate(RANDOM);
    SubjectPublicKeyInfo half = SubjectPublicKeyInfo.of(pair.getPublic());
    // Another program's keystore: no placeholder, an ordinary self-signed certificate.
    Certificate waiting = DRAFT.selfSigned(pair.getPrivate(), half, NOW, NOW.plus(YEAR), RANDOM);
    Path store = keystore(type, pair, waiting);
    KeyStore before = PlatformStore.load(type, Files.readAllBytes(store), "changed it");
    Certificate reply = reply(pair);
    // The intermediate comes in the wrong place, and the root from the keystore itself.
    Path files = file(temp, "reply.txt", pem(issuing(), reply));
    Joined joined = Joiner.join(surveyor().survey(List.of(files, store)), JoinOptions.standard());
    assertEquals(reply, joined.credential().certificate());
    StoreEdit edit = StoreEdit.open(store, surveyor());
    Conversion completed = edit.completed(joined.credential().key(), joined.credential().chain());
    byte[] written =
        completed.encode("store", SealOptions.sealed(edit.password()), RANDOM).content();
    KeyStore after = PlatformStore.load(type, written, "changed it");
    assertEquals(
        java.util.Collections.list(before.aliases()).stream().sorted().toList(),
        java.util.Collections.list(after.aliases()).stream().sorted().toList());
    assertEquals(
        List.of(reply.toX509Certificate(), issuing().toX509Certificate()),
        // Java makes the chains of a PKCS#12 longer by what else is in it: here the trusted root.
        Arrays.asList(after.getCertificateChain("waiting here")).subList(0, 2));
    assertEquals(pair.getPrivate(), after.getKey("waiting here", PASSWORD));
    assertEquals(before.getKey("other", PASSWORD), after.getKey("other", PASSWORD));
    assertEquals(
        List.of(before.getCertificateChain("other")), List.of(after.getCertificateChain("other")));
    assertEquals(before.getCertificate("trusted"), after.getCertificate("trusted"));
  }

  @Test
  void aStoreThatCouldNotBeWrittenAgainIsRefused() throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setEntry(
        "secret",
        new KeyStore.SecretKeyEntry(new javax.crypto.spec.SecretKeySpec(new byte[16], "AES")),
        new KeyStore.PasswordProtection(PASSWORD));
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, PASSWORD);
    Path path = file(temp, "secrets.p12", out.toByteArray());
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> StoreEdit.open(path, surveyor()));
    assertTrue(e.statement().contains("can't be changed without losing"), e.statement());
  }

  @Test
  void aReplyForAnotherKeyIsNotTaken() throws Exception {
    KeyPair pair = KeyKind.EC_P256.generate(RANDOM);
    Certificate waiting =
        DRAFT.placeholder(
            pair.getPrivate(),
            SubjectPublicKeyInfo.of(pair.getPublic()),
            NOW,
            NOW.plus(YEAR),
            RANDOM);
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setKeyEntry("a", pair.getPrivate(), PASSWORD, chain(waiting));
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, PASSWORD);
    Path path = file(temp, "a.p12", out.toByteArray());
    Path reply = file(temp, "reply.pem", pem(reply(KeyKind.EC_P256.generate(RANDOM)), issuing()));
    Survey survey = surveyor().survey(List.of(path, reply));
    assertTrue(survey.findings().stream().anyMatch(f -> f.id().equals("waiting-for-reply")));
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> Joiner.join(survey, JoinOptions.standard()));
    assertEquals(Reason.DOES_NOT_FIT, e.reason());
    assertTrue(e.seen().contains("reply is for another key"), e.seen());
  }

  @Test
  void anAuthorityOfTheSameNameWithAnotherKeyIsTold() {
    Authority twin = Authority.root(issuing().subject(), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    KeyPair pair = KeyKind.EC_P256.generate(RANDOM);
    Path pile = file(temp, "pile.pem", pem(reply(pair), twin.certificate()));
    List<Finding> findings = surveyor().survey(List.of(pile)).findings();
    assertTrue(
        findings.stream().anyMatch(f -> f.id().equals("issuer-of-same-name")), findings.toString());
    // With the right one beside it, the signature decides.
    Path both = file(temp, "both.pem", pem(twin.certificate(), reply(pair), issuing(), root()));
    assertTrue(
        surveyor().survey(List.of(both)).findings().stream()
            .noneMatch(f -> f.id().startsWith("issuer")));
  }

  @Test
  void aNewChainThatLeadsElsewhereIsTold() {
    KeyPair oldPair = KeyKind.EC_P256.generate(RANDOM);
    KeyPair pair = KeyKind.EC_P256.generate(RANDOM);
    Authority elsewhere = Authority.root(name("Other Root"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Certificate reply =
        elsewhere.sign(
            new SigningOrder(DRAFT, Lifetime.days(30)),
            SubjectPublicKeyInfo.of(pair.getPublic()),
            NOW.plusSeconds(5));
    byte[] request =
        io.symbolon.pem.PemWriter.write(
            "CERTIFICATE REQUEST",
            DRAFT.sign(pair.getPrivate(), SubjectPublicKeyInfo.of(pair.getPublic())).encoding());
    Path files =
        file(
            temp,
            "files.pem",
            pem(reply, elsewhere.certificate(), reply(oldPair), issuing(), root()));
    Path asked = file(temp, "r.csr", request);
    List<String> ids =
        surveyor().survey(List.of(files, asked)).findings().stream().map(Finding::id).toList();
    assertTrue(ids.contains("reply-leads-elsewhere"), ids.toString());
    assertTrue(ids.contains("reply-shorter-validity"), ids.toString());
  }
}
