// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.finding.Finding;
import io.symbolon.fixture.Forge;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.limit.WorkBudget;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import java.io.ByteArrayOutputStream;
import java.math.BigInteger;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * Small files that ask for hours of signatures or derivations. What they get is bounded by a budget
 * in units of work; the time limit here only ends a test that would hang.
 */
class HostileWorkTest {
  private static final Duration HANGS = Duration.ofMinutes(2);
  private static final SecureRandom RANDOM = new SecureRandom();
  private static final Random NUMBERS = new Random(7);

  private static Survey survey(byte[] content, WorkBudget budget) {
    return assertTimeoutPreemptively(
        HANGS,
        () -> {
          budget.wasRead(content.length);
          FileSurvey file =
              new ContentReader(List.of(secret("geheim")), budget).read(Path.of("x"), content);
          return Survey.of(
              List.of(file),
              List.of(),
              List.of(),
              List.of(),
              new CertificateJudge(NOW),
              SystemRoots.none(),
              budget);
        });
  }

  private static List<String> ids(Survey survey) {
    return survey.findings().stream().map(Finding::id).distinct().toList();
  }

  /** A certificate of a name for itself, which this key never signed. */
  private static byte[] unsigned(SubjectPublicKeyInfo key) {
    Certificate like =
        CertificateBuilder.of(name("Lanternfish Root"), key)
            .validity(NOW, NOW.plus(YEAR))
            .authority(OptionalInt.empty())
            .signSelf(KeyKind.EC_P256.generate(RANDOM).getPrivate(), RANDOM);
    byte[] algorithm =
        key.algorithm().oid().equals(Oids.EC)
            ? Der.sequence(Der.oid(Oids.ECDSA_SHA256))
            : Forge.algorithm(Oids.RSA_SHA256);
    byte[] signature = new byte[2048];
    NUMBERS.nextBytes(signature);
    return Der.sequence(
        Forge.tbs(
            like, algorithm, Forge.extension(Oids.BASIC_CONSTRAINTS, Der.sequence(Der.bool(true)))),
        algorithm,
        key.algorithm().oid().equals(Oids.EC)
            ? Der.bits(
                Der.sequence(
                    Der.integer(new BigInteger(250, NUMBERS)),
                    Der.integer(new BigInteger(250, NUMBERS))))
            : Der.bits(signature));
  }

  private static SubjectPublicKeyInfo rsa(BigInteger modulus, BigInteger exponent) {
    return SubjectPublicKeyInfo.ofRsaPublicKey(
        Element.read(Der.sequence(Der.integer(modulus), Der.integer(exponent))));
  }

  @Test
  void exponentsAsLongAsTheModulusAreNotComputedWith() {
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    for (int i = 0; i < 25; i++) {
      BigInteger modulus = new BigInteger(16_384, NUMBERS).setBit(16_383).setBit(0);
      BigInteger exponent = new BigInteger(16_380, NUMBERS).setBit(16_379).setBit(0);
      pem.writeBytes(PemWriter.write("CERTIFICATE", unsigned(rsa(modulus, exponent))));
    }
    WorkBudget budget = WorkBudget.full();
    Survey survey = survey(pem.toByteArray(), budget);
    assertEquals(25, survey.certificates().size());
    assertTrue(ids(survey).contains("weak-key"), ids(survey).toString());
    assertTrue(survey.otherChains().stream().noneMatch(chain -> chain.isComplete()));
  }

  @Test
  void manyNamesakesAreTriedUntilTheBudgetIsSpentAndThatIsTold() {
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    for (int i = 0; i < 150; i++) {
      KeyPair pair = KeyKind.EC_P521.generate(RANDOM);
      pem.writeBytes(
          PemWriter.write("CERTIFICATE", unsigned(SubjectPublicKeyInfo.of(pair.getPublic()))));
    }
    WorkBudget budget = WorkBudget.full();
    Survey survey = survey(pem.toByteArray(), budget);
    assertTrue(budget.refusedSignatures() > 0, "22,500 would take minutes");
    Finding told =
        survey.findings().stream()
            .filter(finding -> finding.id().equals("checks-stopped"))
            .findFirst()
            .orElseThrow();
    assertTrue(told.statement().startsWith(budget.refusedSignatures() + " "), told.statement());
  }

  @Test
  void aLoopOfAuthoritiesThatSignEachOtherEnds() {
    int length = 2_000;
    KeyPair pair = KeyKind.EC_P256.generate(RANDOM);
    SubjectPublicKeyInfo key = SubjectPublicKeyInfo.of(pair.getPublic());
    List<byte[]> loop = new ArrayList<>();
    for (int i = 0; i < length; i++) {
      Certificate issuer =
          CertificateBuilder.of(name("A" + (i + 1) % length), key)
              .validity(NOW, NOW.plus(YEAR))
              .authority(OptionalInt.empty())
              .signSelf(pair.getPrivate(), RANDOM);
      loop.add(
          CertificateBuilder.of(name("A" + i), key)
              .validity(NOW, NOW.plus(YEAR))
              .authority(OptionalInt.empty())
              .sign(issuer, pair.getPrivate(), RANDOM)
              .encoding());
    }
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    loop.forEach(one -> pem.writeBytes(PemWriter.write("CERTIFICATE", one)));
    Survey survey = survey(pem.toByteArray(), WorkBudget.full());
    assertEquals(length, survey.certificates().size());
    assertTrue(survey.otherChains().stream().noneMatch(chain -> chain.isComplete()));
  }

  /** A pair of RSA 16384 takes a second to try; sixty of them have room in a mebibyte. */
  @Test
  void pairsOfEnormousKeysAreTriedUntilTheBudgetIsSpent() {
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    for (int i = 0; i < 60; i++) {
      BigInteger p = new BigInteger(8_192, NUMBERS).setBit(8_191).setBit(8_190).setBit(0);
      BigInteger q = new BigInteger(8_192, NUMBERS).setBit(8_191).setBit(8_190).setBit(0);
      BigInteger half = new BigInteger(8_190, NUMBERS);
      BigInteger e = BigInteger.valueOf(65_537);
      byte[] key =
          Der.sequence(
              Der.integer(0),
              Der.integer(p.multiply(q)),
              Der.integer(e),
              Der.integer(new BigInteger(16_380, NUMBERS)),
              Der.integer(p),
              Der.integer(q),
              Der.integer(half),
              Der.integer(half),
              Der.integer(half));
      pem.writeBytes(PemWriter.write("RSA PRIVATE KEY", key));
      pem.writeBytes(PemWriter.write("CERTIFICATE", unsigned(rsa(p.multiply(q), e))));
    }
    WorkBudget budget = WorkBudget.full();
    Survey survey = survey(pem.toByteArray(), budget);
    assertTrue(budget.refusedSignatures() > 40, budget.refusedSignatures() + " of 60");
    assertTrue(ids(survey).contains("checks-stopped"), ids(survey).toString());
  }

  private static byte[] pbmac1(BigInteger rounds, int keyLength) {
    byte[] hmac = Der.sequence(Der.oid(Oids.HMAC_SHA256), Der.nul());
    byte[] derivation =
        Der.sequence(
            Der.oid(Oids.PBKDF2),
            Der.sequence(
                Der.octets(new byte[8]), Der.integer(rounds), Der.integer(keyLength), hmac));
    byte[] mac =
        Der.sequence(
            Der.sequence(
                Der.sequence(Der.oid(Oids.PBMAC1), Der.sequence(derivation, hmac)),
                Der.octets(new byte[32])),
            Der.octets(new byte[8]),
            Der.integer(1));
    return Der.sequence(
        Der.integer(3),
        Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.sequence()))),
        mac);
  }

  @Test
  void aKeyOfManyBlocksAndANumberOfRoundsOfAMebibyteAreRefused() {
    for (byte[] store :
        List.of(
            pbmac1(BigInteger.valueOf(5_000_000), 1_024),
            pbmac1(BigInteger.valueOf(5_000_001), 32),
            pbmac1(BigInteger.ONE.shiftLeft(8 << 20), 32))) {
      FileSurvey file = survey(store, WorkBudget.full()).files().get(0);
      assertTrue(file.failure().isPresent() || file.locked(), file.toString());
      String said = file.findings().toString() + file.failure().map(Object::toString).orElse("");
      assertTrue(said.length() < 2_000, "a number of a mebibyte is not written out");
    }
  }

  @Test
  void allFilesOfACommandShareWhatMayBeDerived() {
    WorkBudget budget = WorkBudget.full();
    for (int i = 0; i < 80; i++) {
      budget.takeDerivation(5_000_000);
    }
    FileSurvey file = survey(pbmac1(BigInteger.valueOf(4_000_000), 32), budget).files().get(0);
    assertTrue(
        file.failure().orElseThrow().seen().contains("All files of this command"),
        file.failure().toString());
  }
}
