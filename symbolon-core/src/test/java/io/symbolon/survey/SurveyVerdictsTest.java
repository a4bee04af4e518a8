// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joiner;
import io.symbolon.key.Fit;
import io.symbolon.key.PlatformCurves;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.math.BigInteger;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.List;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a survey says of revocation lists, of strangers, and of keys that Java can't use. */
class SurveyVerdictsTest {
  // The base points of the curves: the public halves of the private number one.
  private static final String SECP256K1 =
      "0479BE667EF9DCBBAC55A06295CE870B07029BFCDB2DCE28D959F2815B16F81798"
          + "483ADA7726A3C4655DA4FBFC0E1108A8FD17B448A68554199C47D08FFB10D4B8";
  private static final String BRAINPOOL =
      "048BD2AEB9CB7E57CB2C4B482FFC81B7AFB9DE27E1E3BD23C23A4453BD9ACE3262"
          + "547EF835C3DAC4FD97F8461A14611DC9C27745132DED8E545C1D54C72F046997";

  @TempDir Path folder;

  private Survey survey() {
    return Surveyor.create().survey(List.of(folder));
  }

  private static List<FindingKind> kinds(Survey survey, Level level) {
    return survey.findings().stream()
        .filter(finding -> finding.level() == level)
        .map(Finding::kind)
        .toList();
  }

  @ParameterizedTest
  @CsvSource({"secp256k1,true", "secp256k1,false", "brainpool,true", "brainpool,false"})
  void aHealthyKeyIsNeverCalledDamaged(String curve, boolean withPoint) {
    boolean koblitz = curve.equals("secp256k1");
    Oid oid = Oid.of(koblitz ? "1.3.132.0.10" : "1.3.36.3.3.2.8.1.1.7");
    Assumptions.assumeFalse(PlatformCurves.compute(oid));
    byte[] point = HexFormat.of().parseHex(koblitz ? SECP256K1 : BRAINPOOL);
    byte[] algorithm = Der.sequence(Der.oid(Oids.EC), Der.oid(oid));
    byte[] one = new byte[32];
    one[31] = 1;
    byte[] inner =
        Der.sequence(
            Der.integer(1),
            Der.octets(one),
            withPoint ? Der.context(1, Der.bits(point)) : new byte[0]);
    file(
        folder,
        "odd.key",
        PemWriter.write("PRIVATE KEY", Der.sequence(Der.integer(0), algorithm, Der.octets(inner))));
    Certificate certificate =
        ISSUING.sign(
            new SigningOrder(
                RequestDraft.of(name("odd.lanternfish.example"), List.of(), Use.SERVER),
                Lifetime.days(90)),
            SubjectPublicKeyInfo.read(Der.sequence(algorithm, Der.bits(point))),
            NOW);
    file(folder, "odd.pem", pem(certificate, issuing(), root()));
    Survey survey = survey();
    assertEquals(List.of(), kinds(survey, Level.PROBLEM));
    assertEquals(Fit.NOT_CHECKED, survey.matches().get(0).fit());
    assertEquals(
        certificate, Joiner.join(survey, JoinOptions.standard()).credential().certificate());
  }

  private void list(Instant from, int days, Certificate... revoked) {
    List<Authority.Revocation> all =
        List.of(revoked).stream()
            .map(
                one ->
                    new Authority.Revocation(one.serial(), from, RevocationReason.KEY_COMPROMISE))
            .toList();
    RevocationList list = ISSUING.revocationList(all, BigInteger.TEN, from, Lifetime.days(days));
    file(folder, "lists.pem", PemWriter.write("X509 CRL", list.encoding()));
  }

  @Test
  void whatIsOnAListAmongTheFilesIsRevoked() {
    file(folder, "ingest.pem", keyPem(INGEST));
    file(folder, "chain.pem", pem(INGEST.certificate(), issuing(), root()));
    list(NOW, 30);
    assertFalse(kinds(survey(), Level.PROBLEM).contains(FindingKind.REVOKED));
    list(NOW, 30, INGEST.certificate());
    assertEquals(List.of(FindingKind.REVOKED), kinds(survey(), Level.PROBLEM));
  }

  @Test
  void aListThatEndedIsToldOnce() {
    file(
        folder, "chain.pem", pem(INGEST.certificate(), CATALOGUE.certificate(), issuing(), root()));
    list(NOW.minus(Duration.ofDays(9)), 2);
    assertEquals(
        1,
        kinds(survey(), Level.PROBLEM).stream()
            .filter(FindingKind.REVOCATION_LIST_EXPIRED::equals)
            .count());
  }

  @Test
  void aKeyAndACertificateAloneThatDoNotFitAreAProblem() {
    file(folder, "server.key", keyPem(CATALOGUE));
    file(folder, "server.pem", pem(INGEST.certificate(), issuing(), root()));
    assertTrue(kinds(survey(), Level.PROBLEM).contains(FindingKind.KEY_WITHOUT_CERTIFICATE));
    file(folder, "more.pem", pem(CATALOGUE.certificate()));
    assertFalse(kinds(survey(), Level.PROBLEM).contains(FindingKind.KEY_WITHOUT_CERTIFICATE));
  }
}
