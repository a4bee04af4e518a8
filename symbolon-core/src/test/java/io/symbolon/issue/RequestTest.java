// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.KeyUsage;
import io.symbolon.x509.Placeholder;
import io.symbolon.x509.SignatureAlgorithm;
import java.security.KeyPair;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class RequestTest {
  private static final DistinguishedName SUBJECT =
      DistinguishedName.parse(
          "CN=ingest.lanternfish.example,UID=L00417,OU=Readings+OU=Night shift,OU=Buoys,"
              + "O=Lanternfish Observatory\\, North,DC=lanternfish,DC=example,C=IS");

  private static CertificateRequest sign(RequestDraft draft, KeyKind kind) {
    KeyPair pair = kind.generate(RANDOM);
    return draft.sign(pair.getPrivate(), SubjectPublicKeyInfo.of(pair.getPublic()));
  }

  private static List<String> ids(List<Finding> findings) {
    return findings.stream().map(Finding::id).toList();
  }

  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#kinds")
  void aRequestOfEveryKindSaysWhatWasDraftedAndIsSignedByItsKey(KeyKind kind) {
    RequestDraft draft =
        RequestDraft.of(
            SUBJECT,
            List.of(
                GeneralName.ofHost("*.lanternfish.example"),
                GeneralName.ofHost("bøje.lanternfish.example"),
                GeneralName.ofHost("192.0.2.17"),
                GeneralName.ofHost("2001:db8::17"),
                GeneralName.ofEmail("buoys@lanternfish.example"),
                GeneralName.ofUri("https://ingest.lanternfish.example/readings")),
            Use.BOTH);
    CertificateRequest request = sign(draft, kind);
    assertEquals(SignatureAlgorithm.Validity.VALID, request.verify());
    assertEquals(draft, RequestDraft.of(request));
    assertEquals("DNS ingest.lanternfish.example", draft.names().get(0).toString());
    assertTrue(draft.names().toString().contains("xn--bje-0na.lanternfish.example"));
    assertTrue(kind.isOf(request.publicKey()), kind + " " + request.publicKey().description());
    assertEquals(kind, KeyKind.ofWord(kind.word()).orElseThrow());
    assertEquals(List.of(), draft.check("x"));
  }

  @Test
  void whatWasChangedAfterSigningShows() {
    byte[] changed =
        sign(new RequestDraft(SUBJECT, List.of(), Use.CLIENT), KeyKind.EC_P256).encoding();
    int at = new String(changed, java.nio.charset.StandardCharsets.ISO_8859_1).indexOf("L00417");
    changed[at]++;
    assertEquals(SignatureAlgorithm.Validity.INVALID, CertificateRequest.read(changed).verify());
  }

  @ParameterizedTest
  @EnumSource(Use.class)
  void aPlaceholderIsForThePlatformAnOrdinaryCertificateAndRemembersWhatWasAsked(Use use)
      throws Exception {
    KeyPair pair = KeyKind.RSA_2048.generate(RANDOM);
    SubjectPublicKeyInfo key = SubjectPublicKeyInfo.of(pair.getPublic());
    RequestDraft draft = RequestDraft.of(SUBJECT, List.of(), use);
    Certificate waiting = draft.placeholder(pair.getPrivate(), key, NOW, NOW.plus(YEAR), RANDOM);
    assertTrue(Placeholder.is(waiting));
    assertFalse(
        Placeholder.is(draft.selfSigned(pair.getPrivate(), key, NOW, NOW.plus(YEAR), RANDOM)));
    assertFalse(Placeholder.is(CATALOGUE.certificate()));
    assertEquals(draft, RequestDraft.of(waiting));
    assertEquals(-1, waiting.toX509Certificate().getBasicConstraints());
    waiting.toX509Certificate().verify(pair.getPublic());
    assertEquals(
        use == Use.CLIENT
            ? Set.of(KeyUsage.DIGITAL_SIGNATURE)
            : Set.of(KeyUsage.DIGITAL_SIGNATURE, KeyUsage.KEY_ENCIPHERMENT),
        waiting.extensions().keyUsage().orElseThrow());
  }

  @ParameterizedTest
  @CsvSource({
    "'C=UK,CN=a.example', country-unknown, GB",
    "'C=is,CN=a.example', country-unknown, IS",
    "'C=XX,CN=a.example', country-unknown, ISO 3166-1",
    "'CN=a.example,O=\\20', subject-part-empty, organisation",
    "'CN=a.example\\00.other.example', subject-part-unprintable, can't be seen",
    "'CN=a.example,O=\\0aX', subject-part-unprintable, organisation",
    "'CN=a.example,L=#0500', subject-part-unreadable, place",
    "'CN=aaaaaaaaaabbbbbbbbbbccccccccccddddddddddeeeeeeeeeeffffffffff.example',"
        + " subject-part-too-long, alternative name",
  })
  void aSubjectThatNobodyTakesIsNamed(String subject, String id, String told) {
    List<Finding> findings = SubjectCheck.check(DistinguishedName.parse(subject), "x");
    assertEquals(List.of(id), ids(findings));
    assertTrue(findings.get(0).toString().contains(told), findings.get(0).toString());
  }

  @Test
  void aDraftWithoutAnybodyOrWithTooManyNamesIsNamed() {
    DistinguishedName nobody = DistinguishedName.parse("");
    assertEquals(
        List.of("subject-absent", "no-alternative-names"),
        ids(RequestDraft.of(nobody, List.of(), Use.SERVER).check("x")));
    List<GeneralName> many = new ArrayList<>();
    for (int i = 0; i < 10_000; i++) {
      many.add(GeneralName.ofHost("buoy-" + i + ".lanternfish.example"));
    }
    RequestDraft draft = RequestDraft.of(nobody, many, Use.SERVER);
    assertEquals(List.of("too-many-names"), ids(draft.check("x")));
    // A name without a subject has to be critical: RFC 5280, 4.2.1.6.
    RequestDraft few = new RequestDraft(nobody, many.subList(0, 2), Use.SERVER);
    assertTrue(
        sign(few, KeyKind.EC_P256)
            .extensions()
            .find(Oids.SUBJECT_ALT_NAME)
            .orElseThrow()
            .critical());
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "@x.example", "two words@x.example", "a@b c", "a\u0000@x.example"})
  void whatIsNoEmailAddressIsRefused(String text) {
    assertThrows(SymbolonException.class, () -> GeneralName.ofEmail(text));
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "readings", "//x.example/a", "https://x.example/a b"})
  void whatIsNoUriIsRefused(String text) {
    assertThrows(SymbolonException.class, () -> GeneralName.ofUri(text));
  }

  @ParameterizedTest
  @ValueSource(strings = {"397d", "8w", "10y", "12h", "90s"})
  void aLifetimeRoundTrips(String text) {
    assertEquals(text, Lifetime.parse(text).toString());
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "0d", "10", "d", "-1d", "1m", "9999999999d", "1.5y"})
  void whatIsNoLifetimeIsRefused(String text) {
    assertThrows(SymbolonException.class, () -> Lifetime.parse(text));
  }

  @Test
  void yearsAreThoseOfTheCalendarAndEndInTime() {
    java.time.Instant start = java.time.Instant.parse("2024-02-29T12:00:00Z");
    assertEquals("2034-02-28T12:00:00Z", Lifetime.years(10).from(start).toString());
    assertThrows(SymbolonException.class, () -> Lifetime.parse("9000y").from(start));
    assertThrows(SymbolonException.class, () -> Lifetime.parse("99999999w").from(start));
  }

  @Test
  void theSameAskedAgainIsEqualButForItsKey() {
    RequestDraft like = RequestDraft.of(CATALOGUE.certificate());
    assertEquals(CATALOGUE.certificate().subject(), like.subject());
    assertEquals(CATALOGUE.certificate().alternativeNames(), like.names());
    assertEquals(Use.SERVER, like.use());
    assertNotEquals(CATALOGUE.certificate().publicKey(), sign(like, KeyKind.EC_P256).publicKey());
  }
}
