// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
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
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.SystemRoots;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.byhand.Renewal;
import io.symbolon.issue.byhand.RenewalByHand;
import io.symbolon.issue.byhand.WaitingKey;
import io.symbolon.issue.record.IssueRecords;
import io.symbolon.key.KeyForm;
import io.symbolon.key.KeyKind;
import io.symbolon.pem.PemWriter;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is asked for again, and how far that is where a person signs. */
class RenewalTest {
  @TempDir Path temp;

  private static Survey survey(Path... files) {
    return Surveyor.create().withSystemRoots(SystemRoots.none()).survey(List.of(files));
  }

  private Path write(String file, byte[]... parts) {
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    for (byte[] part : parts) {
      all.writeBytes(part);
    }
    return file(temp, file, all.toByteArray());
  }

  private static byte[] request(WaitingKey key) {
    return PemWriter.write("CERTIFICATE REQUEST", key.request().encoding());
  }

  private static byte[] key(WaitingKey key) {
    return PemWriter.write("PRIVATE KEY", key.key().reveal(KeyForm.PKCS8));
  }

  private static Reason refusal(Survey survey, Optional<String> alias) {
    return assertThrows(SymbolonException.class, () -> Renewal.of(survey, alias, "it")).reason();
  }

  @Test
  void itIsFoundInCertificatesKeysAndRequests() {
    Renewal alone =
        Renewal.of(survey(write("a.pem", pem(INGEST.certificate()))), Optional.empty(), "a");
    assertEquals(INGEST.certificate().subject(), alone.draft().subject());
    assertEquals(List.of(GeneralName.ofHost(HOST)), alone.draft().names());
    assertEquals(Use.SERVER, alone.draft().use());
    assertEquals(Optional.empty(), alone.key());
    assertEquals(Optional.of(KeyKind.RSA_2048), alone.kind());

    Path both = write("b.pem", keyPem(CATALOGUE), pem(CATALOGUE.certificate(), issuing()));
    Renewal withKey = Renewal.of(survey(both), Optional.empty(), "b");
    assertEquals(CATALOGUE.certificate().subject(), withKey.draft().subject());
    assertTrue(withKey.key().orElseThrow().key().key().isPresent());
    assertEquals(KeyKind.EC_P256, withKey.kind().orElseThrow());

    WaitingKey waits = WaitingKey.like(CATALOGUE.certificate(), "next", RANDOM);
    Renewal asked = Renewal.of(survey(write("c.csr", request(waits))), Optional.empty(), "c");
    assertEquals(CATALOGUE.certificate().subject(), asked.draft().subject());
    assertEquals(Optional.empty(), asked.key());
    Renewal waiting =
        Renewal.of(survey(write("d.pem", key(waits), request(waits))), Optional.empty(), "d");
    assertEquals(CATALOGUE.certificate().subject(), waiting.draft().subject());
    assertTrue(waiting.key().isPresent());
  }

  @Test
  void severalAreToldApartByTheirAlias() {
    Path one = write("a.pem", keyPem(INGEST), pem(INGEST.certificate()));
    Path other = write("b.pem", keyPem(CATALOGUE), pem(CATALOGUE.certificate()));
    assertEquals(Reason.AMBIGUOUS, refusal(survey(one, other), Optional.empty()));
    Renewal chosen =
        Renewal.of(survey(one, other), Optional.of("catalogue.lanternfish.example"), "x");
    assertEquals(CATALOGUE.certificate().subject(), chosen.draft().subject());
    Path certificates =
        write("c.pem", pem(INGEST.certificate(), CATALOGUE.certificate(), issuing()));
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> Renewal.of(survey(certificates), Optional.empty(), "c.pem"));
    assertTrue(e.seen().startsWith("c.pem holds 2: '"), e.seen());
    assertEquals(
        Reason.NOT_FOUND,
        refusal(survey(write("d.pem", pem(issuing()))), Optional.empty()),
        "an authority's");
    assertEquals(Reason.UNREADABLE, refusal(survey(temp.resolve("absent")), Optional.empty()));
  }

  @Test
  void aNewKeyIsLikeTheOldOneForAsLong() {
    Certificate certificate =
        ISSUING
            .issue(
                name("buoy-017"), KeyKind.RSA_3072, List.of(), Use.CLIENT, NOW, Duration.ofDays(90))
            .certificate();
    WaitingKey next = WaitingKey.like(certificate, "buoy", RANDOM);
    assertEquals("buoy", next.alias());
    assertTrue(KeyKind.RSA_3072.isOf(next.publicKey()));
    assertNotEquals(certificate.publicKey(), next.publicKey());
    assertEquals(90, next.lasts().amount(), "days, with the hour for wrong clocks left out");
    assertEquals(Use.CLIENT, next.draft().use());
    assertEquals(List.of(), next.entry(NOW, false).chain());
    Certificate placeholder = next.entry(NOW, true).chain().get(0);
    assertEquals(certificate.subject(), placeholder.subject());
    assertEquals(next.publicKey(), placeholder.publicKey());
    assertEquals(Optional.of(NOW), next.entry(NOW, true).created());
  }

  @Test
  void howFarItIsFollowsFromTheFilesBesideIt() {
    Certificate old = CATALOGUE.certificate();
    Path request = temp.resolve("next.csr");
    assertEquals(RenewalByHand.NOT_BEGUN, RenewalByHand.of(old, request, Optional.empty()));
    WaitingKey waits = WaitingKey.like(old, "next", RANDOM);
    Path key = write("next.key", key(waits));
    write("next.csr", request(waits));
    assertEquals(
        RenewalByHand.WAITS, RenewalByHand.of(old, request, Optional.of(survey(key, request))));
    Certificate reply =
        ISSUING.sign(new SigningOrder(waits.draft(), Lifetime.days(90)), waits.publicKey(), NOW);
    Path answered = write("reply.pem", pem(reply));
    assertEquals(
        RenewalByHand.ANSWERED,
        RenewalByHand.of(old, request, Optional.of(survey(key, request, answered))));
    assertEquals(
        RenewalByHand.NOT_BEGUN,
        RenewalByHand.of(reply, request, Optional.of(survey(key, request, answered))),
        "the request of the certificate that ends now");
    assertEquals(
        RenewalByHand.NOT_BEGUN,
        RenewalByHand.of(reply, request, Optional.of(survey(request))),
        "its key moved into place");

    SymbolonException noKey =
        assertThrows(
            SymbolonException.class,
            () -> RenewalByHand.of(old, request, Optional.of(survey(request))));
    assertEquals("The key for it does not lie beside it.", noKey.seen());
    SymbolonException other =
        assertThrows(
            SymbolonException.class,
            () ->
                RenewalByHand.of(INGEST.certificate(), request, Optional.of(survey(key, request))));
    assertTrue(other.seen().startsWith("It asks for another subject: catalogue"), other.seen());
    Path absent = temp.resolve("absent.key");
    SymbolonException unreadable =
        assertThrows(
            SymbolonException.class,
            () -> RenewalByHand.of(old, request, Optional.of(survey(request, absent))));
    assertEquals("The new key beside it can't be read.", unreadable.statement());
  }

  @Test
  void aLinkInThePlaceOfARequestIsRefused() throws Exception {
    Path credential = write("a.pem", keyPem(INGEST));
    Path request = write("next.csr", new byte[0]);
    RenewalByHand.checkOwner(request, credential);
    Path link = Files.createSymbolicLink(temp.resolve("link.csr"), request);
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> RenewalByHand.checkOwner(link, credential));
    assertEquals("It is a link.", e.seen());
    assertEquals(
        Reason.UNREADABLE,
        assertThrows(
                SymbolonException.class,
                () -> RenewalByHand.checkOwner(temp.resolve("absent"), credential))
            .reason());
  }

  @Test
  void certificatesForTheSameNamesAreRenewalsOfEachOther() {
    Certificate again =
        ISSUING
            .issue(
                INGEST.certificate().subject(),
                KeyKind.EC_P256,
                List.of(HostName.parse(HOST)),
                Use.SERVER,
                NOW,
                YEAR)
            .certificate();
    assertEquals(IssueRecords.sameNames(INGEST.certificate()), IssueRecords.sameNames(again));
    assertNotEquals(IssueRecords.sameNames(CATALOGUE.certificate()), IssueRecords.sameNames(again));
  }
}
