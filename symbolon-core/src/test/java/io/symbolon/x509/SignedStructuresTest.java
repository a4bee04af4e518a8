// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.fixture.Forge;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.security.spec.MGF1ParameterSpec;
import java.security.spec.PSSParameterSpec;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Structures that others sign, with what others put into them. */
class SignedStructuresTest {
  private static final PrivateKey KEY = INGEST.key().toPrivateKey();

  private static Certificate selfSigned(byte[] algorithm, String name, byte[]... extensions) {
    PSSParameterSpec pss =
        name.equals("RSASSA-PSS")
            ? new PSSParameterSpec("SHA-256", "MGF1", MGF1ParameterSpec.SHA256, 32, 1)
            : null;
    byte[] tbs = Forge.tbs(INGEST.certificate(), algorithm, extensions);
    return Certificate.read(Forge.signed(tbs, algorithm, name, pss, KEY));
  }

  @Test
  void pssSignaturesAreVerifiedWithTheirParameters() throws Exception {
    Certificate certificate = selfSigned(Forge.pss(), "RSASSA-PSS");
    assertEquals(SignatureAlgorithm.Validity.VALID, certificate.verify(INGEST.certificate()));
    assertFalse(certificate.signatureAlgorithm().isWeak());
    X509Certificate theirs = certificate.toX509Certificate();
    theirs.verify(INGEST.certificate().toX509Certificate().getPublicKey());
    // Without parameters the algorithm stands for SHA-1: the same signature is then wrong, and
    // weak.
    byte[] bare = Der.sequence(Der.oid(Oids.RSA_PSS), Der.sequence());
    SignatureAlgorithm standard = SignatureAlgorithm.read(io.symbolon.der.Element.read(bare));
    assertTrue(standard.isWeak());
    assertEquals(20, standard.pss().orElseThrow().getSaltLength());
  }

  @Test
  void sha1IsCalledWeakAndAnUnknownAlgorithmIsNotCheckedButNamed() {
    Certificate sha1 = selfSigned(Forge.algorithm(Oids.RSA_SHA1), "SHA1withRSA");
    List<String> ids =
        new CertificateJudge(NOW).judge(sha1, "x").stream().map(f -> f.id()).toList();
    assertTrue(ids.contains("weak-signature"), ids.toString());

    byte[] unknown = Der.sequence(Der.oid(io.symbolon.oid.Oid.of("1.2.3.4.5")));
    Certificate strange = selfSigned(unknown, "SHA256withRSA");
    assertEquals("1.2.3.4.5", strange.signatureAlgorithm().name());
    assertEquals(SignatureAlgorithm.Validity.NOT_CHECKED, strange.verify(INGEST.certificate()));
  }

  @Test
  void twoAlgorithmsInOneCertificateAreRefused() {
    byte[] tbs = Forge.tbs(INGEST.certificate(), Forge.algorithm(Oids.RSA_SHA512));
    byte[] whole = Forge.signed(tbs, Forge.algorithm(Oids.RSA_SHA256), "SHA256withRSA", null, KEY);
    SymbolonException e = assertThrows(SymbolonException.class, () -> Certificate.read(whole));
    assertTrue(e.seen().contains("two different signature algorithms"), e.seen());
  }

  @Test
  void aVersion1CertificateHasNoExtensionsAndIsAnAuthorityOnlyIfItSignedItself() {
    Certificate v1 = selfSigned(Forge.algorithm(Oids.RSA_SHA256), "SHA256withRSA");
    assertTrue(v1.extensions().isEmpty());
    assertFalse(v1.isAuthority(), "another is named as its issuer");
    assertTrue(v1.alternativeNames().isEmpty());
  }

  @Test
  void anExtensionTwiceIsRefusedAndADamagedOneIsListed() {
    byte[] algorithm = Forge.algorithm(Oids.RSA_SHA256);
    byte[] usage = Forge.extension(Oids.KEY_USAGE, Der.namedBits(1));
    Certificate twice = selfSigned(algorithm, "SHA256withRSA", usage, usage);
    assertThrows(SymbolonException.class, () -> Certificate.readWhole(twice.encoding()));

    Certificate damaged =
        selfSigned(
            algorithm,
            "SHA256withRSA",
            Forge.extension(Oids.BASIC_CONSTRAINTS, new byte[] {0x30, 0x05}),
            Forge.extension(Oids.SUBJECT_ALT_NAME, Der.integer(1)),
            usage);
    assertFalse(damaged.isAuthority(), "what can't be read gives no rights");
    assertEquals(
        List.of(Oids.BASIC_CONSTRAINTS, Oids.SUBJECT_ALT_NAME), damaged.extensions().damaged());
    List<String> ids =
        new CertificateJudge(NOW).judge(damaged, "x").stream().map(f -> f.id()).toList();
    assertTrue(ids.contains("damaged-extension"), ids.toString());
  }

  @Test
  void everyKindOfAlternativeNameIsRead() {
    byte[] names =
        Der.sequence(
            Der.contextPrimitive(
                1, "desk@lanternfish.example".getBytes(java.nio.charset.StandardCharsets.US_ASCII)),
            Der.contextPrimitive(2, HOST.getBytes(java.nio.charset.StandardCharsets.US_ASCII)),
            Der.context(4, root().subject().encoding()),
            Der.contextPrimitive(
                6, "urn:buoy:17".getBytes(java.nio.charset.StandardCharsets.US_ASCII)),
            Der.contextPrimitive(7, new byte[] {(byte) 192, 0, 2, 17}),
            Der.contextPrimitive(8, new byte[] {0x2A, 3}),
            Der.context(0, Der.oid(Oids.UID), Der.context(0, Der.utf8("x"))));
    Certificate certificate =
        selfSigned(
            Forge.algorithm(Oids.RSA_SHA256),
            "SHA256withRSA",
            Forge.extension(Oids.SUBJECT_ALT_NAME, names));
    assertEquals(
        List.of(
            "desk@lanternfish.example",
            HOST,
            root().subject().toString(),
            "urn:buoy:17",
            "192.0.2.17",
            "1.2.3"),
        certificate.alternativeNames().stream().map(GeneralName::value).limit(6).toList());
    assertEquals(GeneralName.NameForm.OTHER, certificate.alternativeNames().get(6).kind());
    assertEquals(2, certificate.alternativeNames().stream().filter(GeneralName::isHost).count());
  }

  @Test
  void aRequestIsReadAndItsSignatureChecked() {
    byte[] names =
        Der.sequence(
            Der.contextPrimitive(2, HOST.getBytes(java.nio.charset.StandardCharsets.US_ASCII)));
    byte[] asked =
        Der.sequence(
            Der.oid(Oids.EXTENSION_REQUEST),
            Der.setOf(List.of(Der.sequence(Forge.extension(Oids.SUBJECT_ALT_NAME, names)))));
    byte[] info =
        Der.sequence(
            Der.integer(0),
            INGEST.certificate().subject().encoding(),
            INGEST.certificate().publicKey().encoding(),
            Der.context(
                0,
                Der.sequence(Der.oid(Oids.CHALLENGE_PASSWORD), Der.setOf(List.of(Der.utf8("x")))),
                asked));
    byte[] der = Forge.signed(info, Forge.algorithm(Oids.RSA_SHA256), "SHA256withRSA", null, KEY);
    CertificateRequest request = CertificateRequest.read(der);
    assertEquals(INGEST.certificate().subject(), request.subject());
    assertEquals(INGEST.certificate().keyId(), request.publicKey().keyId());
    assertEquals(HOST, request.extensions().subjectAlternativeNames().get(0).value());
    assertEquals(SignatureAlgorithm.Validity.VALID, request.verify());

    byte[] changed = der.clone();
    changed[changed.length - 1] ^= 1;
    assertEquals(SignatureAlgorithm.Validity.INVALID, CertificateRequest.read(changed).verify());
  }

  @Test
  void aRevocationListIsReadLikeThePlatformReadsIt() throws Exception {
    byte[] algorithm = Forge.algorithm(Oids.RSA_SHA256);
    byte[] revoked = Der.sequence(Der.sequence(Der.integer(17), Der.time(NOW)));
    byte[] tbs =
        Der.sequence(
            Der.integer(1),
            algorithm,
            root().subject().encoding(),
            Der.time(NOW),
            Der.time(NOW.plusSeconds(3600)),
            revoked);
    byte[] der = Forge.signed(tbs, algorithm, "SHA256withRSA", null, KEY);
    RevocationList ours = RevocationList.read(der);
    var theirs =
        (java.security.cert.X509CRL)
            java.security.cert.CertificateFactory.getInstance("X.509")
                .generateCRL(new java.io.ByteArrayInputStream(der));
    assertEquals(theirs.getThisUpdate().toInstant(), ours.thisUpdate());
    assertEquals(theirs.getNextUpdate().toInstant(), ours.nextUpdate().orElseThrow());
    assertEquals(root().subject(), ours.issuer());
  }
}
