// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.rule.BoundedMatch;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.limit.Limits;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.Extension;
import io.symbolon.x509.GeneralName;
import java.net.URI;
import java.security.KeyPair;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What is asked for, to the character and to the second. */
class WhatIsAskedTest {
  private static final KeyPair PAIR = KeyKind.EC_P256.generate(RANDOM);
  private static final SubjectPublicKeyInfo KEY = SubjectPublicKeyInfo.of(PAIR.getPublic());
  private static final DistinguishedName NOBODY = DistinguishedName.parse("");

  private static List<String> ids(List<Finding> findings) {
    return findings.stream().map(Finding::id).toList();
  }

  private static List<String> subject(String text) {
    return ids(SubjectCheck.check(DistinguishedName.parse(text), "x"));
  }

  private static GeneralName raw(GeneralName.NameForm form, String value) {
    int tag =
        switch (form) {
          case EMAIL -> 1;
          case DNS -> 2;
          default -> 6;
        };
    byte[] octets = value.getBytes(java.nio.charset.StandardCharsets.ISO_8859_1);
    byte[] names = Der.sequence(Der.contextPrimitive(tag, octets));
    Certificate certificate =
        io.symbolon.x509.CertificateBuilder.of(name("x"), KEY)
            .validity(NOW, NOW.plus(YEAR))
            .endEntity()
            .add(new Extension(Oids.SUBJECT_ALT_NAME, false, names))
            .signSelf(PAIR.getPrivate(), RANDOM);
    return certificate.alternativeNames().get(0);
  }

  @Test
  void partsOfASubjectHaveTheirLongest() {
    assertEquals(List.of(), subject("CN=" + "a".repeat(64)));
    assertEquals(List.of("subject-part-too-long"), subject("CN=" + "a".repeat(65)));
    assertEquals(List.of(), subject("CN=" + "\uD83D\uDC19".repeat(64)), "counted as people do");
    assertEquals(List.of(), subject("L=" + "a".repeat(128)));
    assertEquals(List.of("subject-part-too-long"), subject("L=" + "a".repeat(129)));
    String parts = "OU=a,".repeat(Limits.SUBJECT_PARTS - 1) + "OU=b";
    assertEquals(List.of(), subject(parts));
    assertEquals(List.of("subject-too-long"), subject(parts + ",OU=c"));
    assertEquals(List.of(), subject("1.3.6.1.4.1.99999.1=#0500"), "a type of somebody's own");
    for (int c : new int[] {0x1F, 0x7F, 0x9F, 0xFFFD}) {
      String shown = "CN=a" + Character.toString(c) + "b";
      assertEquals(List.of("subject-part-unprintable"), subject(shown), Integer.toHexString(c));
    }
    assertEquals(List.of(), subject("CN=a\u00A0b ~"));
    assertEquals("common name (CN)", SubjectCheck.title(Oids.CN));
    assertEquals("part 1.2.3", SubjectCheck.title(io.symbolon.oid.Oid.of("1.2.3")));
  }

  @ParameterizedTest
  @CsvSource({
    "DNS, *.example, whole registry",
    "DNS, *.lanternfish.example, ''",
    "DNS, 192.0.2.17, called a DNS name",
    "URI, https://a.example, ''",
    "URI, //a.example, without a scheme",
    "URI, :a, without a scheme",
    "URI, javascript:alert, run something",
    "URI, JavaScript:alert, run something",
    "EMAIL, a b@x.example, U+0020",
    "EMAIL, a\u007F@x.example, U+007F",
    "EMAIL, ~!@x.example, ''",
  })
  void namesThatProgramsTakeForMoreAreTold(GeneralName.NameForm form, String value, String told) {
    List<Finding> findings = NameCheck.check(List.of(raw(form, value)), "x");
    assertEquals(told.isEmpty() ? 0 : 1, findings.size(), findings.toString());
    if (!told.isEmpty()) {
      assertTrue(findings.get(0).statement().contains(told), findings.get(0).statement());
      assertEquals(FindingKind.NAME_NOT_ALLOWED, findings.get(0).kind());
    }
  }

  @Test
  void aDraftIsCheckedWhoeverReceivesIt() {
    List<GeneralName> hosts = new java.util.ArrayList<>();
    for (int i = 0; i < Limits.ALTERNATIVE_NAMES; i++) {
      hosts.add(GeneralName.ofHost("h" + i + ".example"));
    }
    assertEquals(List.of(), ids(new RequestDraft(NOBODY, hosts, Use.SERVER).check("x")));
    GeneralName mail = GeneralName.ofEmail("a@lanternfish.example");
    List<GeneralName> both = List.of(hosts.get(0), mail);
    assertEquals(
        List.of("email-for-server"), ids(new RequestDraft(NOBODY, both, Use.SERVER).check("x")));
    assertEquals(List.of(), ids(new RequestDraft(NOBODY, both, Use.BOTH).check("x")));
    assertEquals(
        List.of("no-alternative-names"),
        ids(new RequestDraft(name("x"), List.of(mail), Use.BOTH).check("x")));
  }

  @Test
  void theUseOfACertificateThatNamesNoneFollowsFromItsHosts() {
    Certificate hostless =
        io.symbolon.x509.CertificateBuilder.of(name("buoy"), KEY)
            .validity(NOW, NOW.plus(YEAR))
            .endEntity()
            .signSelf(PAIR.getPrivate(), RANDOM);
    assertEquals(Use.CLIENT, RequestDraft.of(hostless).use());
    Certificate named =
        io.symbolon.x509.CertificateBuilder.of(name("a.lanternfish.example"), KEY)
            .validity(NOW, NOW.plus(YEAR))
            .endEntity()
            .signSelf(PAIR.getPrivate(), RANDOM);
    assertEquals(Use.SERVER, RequestDraft.of(named).use(), "its common name is a host");
    Certificate covering =
        io.symbolon.x509.CertificateBuilder.of(name("buoy"), KEY)
            .validity(NOW, NOW.plus(YEAR))
            .endEntity()
            .alternativeNames(List.of(GeneralName.ofHost("a.example")))
            .signSelf(PAIR.getPrivate(), RANDOM);
    assertEquals(Use.SERVER, RequestDraft.of(covering).use());
    for (Use use : Use.values()) {
      assertEquals(Optional.of(use), Use.ofWord(use.word()));
    }
    assertEquals(Optional.empty(), Use.ofWord("Server"));
    assertEquals("both", Use.BOTH.word());
    assertEquals("TLS server and TLS client", Use.BOTH.title());
  }

  @Test
  void lifetimesEndWithTheYear9999() {
    Instant late = Instant.parse("9998-12-31T23:59:59Z");
    assertEquals("9999-12-31T23:59:59Z", Lifetime.years(1).from(late).toString());
    assertThrows(SymbolonException.class, () -> Lifetime.years(2).from(late));
    assertEquals("9999-12-31T23:59:59Z", Lifetime.days(365).from(late).toString());
    SymbolonException beyond =
        assertThrows(SymbolonException.class, () -> Lifetime.parse("366d").from(late));
    assertTrue(beyond.statement().contains("366 days"), beyond.statement());
    assertEquals("1 week", Lifetime.parse("1w").title());
    assertEquals("2 hours", Lifetime.parse("2h").title());
    assertEquals(1, Lifetime.days(1).amount());
    assertThrows(IllegalArgumentException.class, () -> Lifetime.days(0));
  }

  @Test
  void patternsAreFoundAndBounded() {
    assertTrue(BoundedMatch.finds("b+", "abbc"));
    assertFalse(BoundedMatch.finds("d", "abbc"));
    String most = "a".repeat(Limits.PATTERN);
    BoundedMatch.check(most);
    assertThrows(SymbolonException.class, () -> BoundedMatch.check(most + "a"));
    BoundedMatch.check("a{100000}");
    BoundedMatch.check("(a{100}){1000}");
    BoundedMatch.check("(a{0,1000}){0,100}");
    for (String many : List.of("a{100001}", "(a{101}){1000}", "a{9999999}", "a{2,100001}")) {
      assertThrows(SymbolonException.class, () -> BoundedMatch.check(many), many);
    }
    SymbolonException e =
        assertThrows(
            SymbolonException.class, () -> BoundedMatch.finds("(.*a){20}b", "a".repeat(60)));
    assertEquals(Reason.LIMIT_PASSED, e.reason());
    assertTrue(BoundedMatch.finds("z", "a".repeat(300_000) + "z"), "long and harmless");
  }

  @Test
  void whereAListIsPublishedStandsInTheCertificate() {
    URI list = Published.address("http://authority.lanternfish.example/a.crl");
    URI own = URI.create("http://authority.lanternfish.example/a.cer");
    URI status = URI.create("http://authority.lanternfish.example/status");
    assertEquals(List.of(), Published.NOTHING.extensions());
    List<Extension> all =
        new Published(Optional.of(list), Optional.of(own), Optional.of(status)).extensions();
    assertEquals(2, all.size());
    assertEquals("2.5.29.31", all.get(0).oid().toString());
    byte[] address = list.toString().getBytes(java.nio.charset.StandardCharsets.US_ASCII);
    String length = HexFormat.of().toHexDigits((byte) address.length);
    String[] around = new String[4]; // RFC 5280, 4.2.1.13: list, point, name, full name
    for (int i = 0; i < 4; i++) {
      around[3 - i] = HexFormat.of().toHexDigits((byte) (address.length + 2 + 2 * i));
    }
    assertEquals(
        "30" + around[0] + "30" + around[1] + "a0" + around[2] + "a0" + around[3] + "86" + length
            + hex(list),
        HexFormat.of().formatHex(all.get(0).value()));
    assertEquals(Oids.AUTHORITY_INFO, all.get(1).oid());
    String access = HexFormat.of().formatHex(all.get(1).value());
    assertTrue(access.indexOf("2b06010505073001") < access.indexOf(hex(status)), "status first");
    assertTrue(access.indexOf("2b06010505073002") < access.indexOf(hex(own)));
    assertTrue(access.indexOf(hex(status)) < access.indexOf("2b06010505073002"));
    assertEquals(
        1, new Published(Optional.empty(), Optional.of(own), Optional.empty()).extensions().size());
    assertEquals(
        1,
        new Published(Optional.empty(), Optional.empty(), Optional.of(status)).extensions().size());
  }

  private static String hex(URI address) {
    return HexFormat.of()
        .formatHex(address.toString().getBytes(java.nio.charset.StandardCharsets.US_ASCII));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "https://a.example/x",
        "http:///x",
        "http://a b/",
        "ldap://a.example",
        "",
        "http://\u00f8.example"
      })
  void whatIsNoAddressOfAListIsRefused(String text) {
    assertThrows(SymbolonException.class, () -> Published.address(text));
  }

  @Test
  void whatAnAuthoritySaysOfAnOrder() {
    Authority root =
        Authority.root(
            AuthorityPlan.of(name("Root"), KeyKind.EC_P256, Lifetime.days(100)), NOW, RANDOM);
    Instant ends = root.certificate().notAfter();
    RequestDraft client = new RequestDraft(name("buoy"), List.of(), Use.CLIENT);
    assertEquals(List.of(), root.judge(new SigningOrder(client, Lifetime.days(100)), NOW, "x"));
    List<Finding> cut = root.judge(new SigningOrder(client, Lifetime.days(101)), NOW, "x");
    assertEquals(List.of("lifetime-cut"), ids(cut));
    assertTrue(cut.get(0).statement().contains(ends.toString()), cut.get(0).statement());
    // Its first hour: nothing begins before the authority itself.
    Authority later = root.intermediate(name("A"), KeyKind.EC_P256, NOW, Duration.ofDays(9));
    Certificate first =
        later.sign(new SigningOrder(client, Lifetime.days(1)), KEY, NOW.plusSeconds(60));
    assertFalse(first.notBefore().isBefore(later.certificate().notBefore()));
    assertThrows(
        SymbolonException.class,
        () ->
            root.intermediate(name("B"), KeyKind.EC_P256, ends.plusSeconds(9), Duration.ofDays(9)));
    assertEquals(
        OptionalInt.of(0),
        later.certificate().extensions().basicConstraints().orElseThrow().pathLength());
    Authority odd =
        Authority.root(name("Odd"), KeyKind.EC_P256, NOW, Duration.ofSeconds(90_001), RANDOM);
    assertEquals(
        NOW.plusSeconds(90_001).getEpochSecond(), odd.certificate().notAfter().getEpochSecond());
    assertEquals(issuing().subject(), RequestDraft.of(issuing()).subject());
  }
}
