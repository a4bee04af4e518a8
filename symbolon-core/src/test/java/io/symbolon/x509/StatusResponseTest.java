// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.fixture.StatusForge;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import java.security.GeneralSecurityException;
import java.security.cert.CertPathValidator;
import java.security.cert.CertPathValidatorException;
import java.security.cert.CertificateFactory;
import java.security.cert.PKIXParameters;
import java.security.cert.PKIXRevocationChecker;
import java.security.cert.TrustAnchor;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

class StatusResponseTest {
  private static final Instant FROM = NOW.truncatedTo(ChronoUnit.SECONDS).minusSeconds(60);
  private static final Instant UNTIL = FROM.plus(Duration.ofDays(3));

  private static byte[] response(byte[] status) {
    return StatusForge.response(
        INGEST.certificate(), issuing(), status, FROM, UNTIL, ISSUING.credential());
  }

  /** What the platform's own path check makes of the same response. */
  private static String platform(byte[] response) throws GeneralSecurityException {
    CertPathValidator validator = CertPathValidator.getInstance("PKIX");
    PKIXRevocationChecker checker = (PKIXRevocationChecker) validator.getRevocationChecker();
    checker.setOptions(
        Set.of(
            PKIXRevocationChecker.Option.ONLY_END_ENTITY,
            PKIXRevocationChecker.Option.NO_FALLBACK));
    var end = INGEST.certificate().toX509Certificate();
    checker.setOcspResponses(Map.of(end, response));
    PKIXParameters parameters =
        new PKIXParameters(Set.of(new TrustAnchor(root().toX509Certificate(), null)));
    parameters.addCertPathChecker(checker);
    try {
      validator.validate(
          CertificateFactory.getInstance("X.509")
              .generateCertPath(List.of(end, issuing().toX509Certificate())),
          parameters);
      return "GOOD";
    } catch (CertPathValidatorException e) {
      return e.getReason().toString();
    }
  }

  @Test
  void whatItSaysIsReadAsThePlatformReadsIt() throws GeneralSecurityException {
    Map<StatusResponse.Status, byte[]> all =
        Map.of(
            StatusResponse.Status.GOOD, StatusForge.good(),
            StatusResponse.Status.REVOKED, StatusForge.revoked(FROM),
            StatusResponse.Status.UNKNOWN, StatusForge.unknown());
    for (Map.Entry<StatusResponse.Status, byte[]> one : all.entrySet()) {
      StatusResponse read = StatusResponse.read(response(one.getValue()));
      StatusResponse.Single about = read.about(INGEST.certificate(), issuing()).orElseThrow();
      assertEquals(one.getKey(), about.status());
      assertEquals(FROM, about.thisUpdate());
      assertEquals(UNTIL, about.nextUpdate().orElseThrow());
      assertEquals(FROM, read.producedAt());
      assertEquals(one.getKey() == StatusResponse.Status.REVOKED, about.revokedAt().isPresent());
      assertEquals(Validity.VALID, read.verify(issuing()));
      String expected =
          one.getKey() == StatusResponse.Status.UNKNOWN
              ? "UNDETERMINED_REVOCATION_STATUS"
              : one.getKey().name();
      assertEquals(expected, platform(response(one.getValue())));
    }
  }

  @Test
  void whoSignedItDecidesWhetherItIsBelieved() throws GeneralSecurityException {
    byte[] stranger =
        StatusForge.response(
            INGEST.certificate(),
            issuing(),
            StatusForge.good(),
            FROM,
            UNTIL,
            CATALOGUE,
            CATALOGUE.certificate());
    assertEquals(Validity.INVALID, StatusResponse.read(stranger).verify(issuing()));
    assertFalse(platform(stranger).equals("GOOD"));
    byte[] byRoot =
        StatusForge.response(
            INGEST.certificate(),
            issuing(),
            StatusForge.good(),
            FROM,
            UNTIL,
            ROOT.credential(),
            root());
    assertEquals(Validity.INVALID, StatusResponse.read(byRoot).verify(issuing()));
    assertTrue(StatusResponse.read(byRoot).about(CATALOGUE.certificate(), issuing()).isEmpty());
    assertTrue(StatusResponse.read(byRoot).about(INGEST.certificate(), root()).isEmpty());
  }

  @Test
  void damagedOnesAreRefusedAndNothingElseIsThrown() {
    byte[] whole = response(StatusForge.good());
    for (int length = 0; length < whole.length; length++) {
      byte[] cut = Arrays.copyOf(whole, length);
      assertThrows(SymbolonException.class, () -> StatusResponse.read(cut));
    }
    int read = 0;
    for (int at = 0; at < whole.length; at++) {
      byte[] flipped = whole.clone();
      flipped[at] ^= 0x11;
      try {
        StatusResponse response = StatusResponse.read(flipped);
        boolean believed =
            response.about(INGEST.certificate(), issuing()).isPresent()
                && response.verify(issuing()) == Validity.VALID;
        assertFalse(believed && at > 60, "octet " + at);
        read++;
      } catch (SymbolonException e) {
        assertFalse(e.seen().isBlank());
      }
    }
    assertTrue(read > 50, "only " + read);
    StatusResponse error = StatusResponse.read(StatusForge.error(3));
    assertFalse(error.isAnswer());
    assertEquals(3, error.code());
    assertEquals(Validity.NOT_CHECKED, error.verify(issuing()));
  }
}
