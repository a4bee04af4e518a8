// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Oids;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.security.KeyPair;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What one certificate says of itself, to the second and to the day. */
class CertificateJudgeTest {
  private static final Certificate CERTIFICATE = INGEST.certificate();
  private static final Instant ENDS = CERTIFICATE.notAfter();

  private static List<Finding> at(Instant now) {
    return new CertificateJudge(now).judge(CERTIFICATE, "x");
  }

  private static List<String> ids(List<Finding> findings) {
    return findings.stream().map(Finding::id).toList();
  }

  private static Certificate with(List<Oid> usages, GeneralName... names) {
    KeyPair pair = KeyKind.EC_P256.generate(RANDOM);
    CertificateBuilder builder =
        CertificateBuilder.of(name("x"), SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(NOW, NOW.plus(YEAR))
            .endEntity();
    if (!usages.isEmpty()) {
      builder.extendedKeyUsage(usages);
    }
    if (names.length > 0) {
      builder.alternativeNames(List.of(names));
    }
    return builder.sign(issuing(), ISSUING.credential().key().toPrivateKey(), RANDOM);
  }

  @Test
  void validityIsJudgedToTheSecond() {
    assertEquals(List.of(), ids(at(CERTIFICATE.notBefore())));
    assertEquals(List.of("not-yet-valid"), ids(at(CERTIFICATE.notBefore().minusSeconds(1))));
    assertEquals(List.of("expires-soon"), ids(at(ENDS)));
    assertEquals(List.of("expired"), ids(at(ENDS.plusSeconds(1))));
    Duration month = Duration.ofDays(30);
    assertEquals(List.of(), ids(at(ENDS.minus(month))));
    assertEquals(List.of("expires-soon"), ids(at(ENDS.minus(month).plusSeconds(1))));
    CertificateJudge week =
        new CertificateJudge(ENDS.minus(Duration.ofDays(8)), Duration.ofDays(7));
    assertEquals(List.of(), ids(week.judge(CERTIFICATE, "x")));
    assertEquals(ENDS.minus(Duration.ofDays(8)), week.now());
  }

  @ParameterizedTest
  @CsvSource({"172800, expires in 2 days", "86400, expires in 1 day,", "86399, expires in 0 days"})
  void theDaysThatAreLeftAreWholeOnes(int seconds, String words) {
    Finding soon = at(ENDS.minusSeconds(seconds)).get(0);
    assertTrue(soon.statement().contains(words), soon.statement());
    assertEquals(Optional.of(ENDS), soon.about().date());
    assertEquals(List.of(CERTIFICATE), soon.about().certificates());
  }

  @Test
  void whoRenewsItIsSaid() {
    Instant late = root().notAfter().plusSeconds(1);
    Finding ofRoot = new CertificateJudge(late).judge(root(), "x").get(0);
    assertTrue(
        ofRoot.remedy().advice().contains("the authority for its current"), ofRoot.toString());
    assertEquals("Ask for a new certificate.", at(late).get(0).remedy().advice());
    Finding early = at(CERTIFICATE.notBefore().minusSeconds(5)).get(0);
    assertEquals(Optional.of(CERTIFICATE.notBefore()), early.about().date());
    assertTrue(early.remedy().advice().contains("clock of this machine"), early.toString());
  }

  @Test
  void aServerNamesItsHostsAndAClientNeedNot() {
    CertificateJudge judge = new CertificateJudge(NOW.plusSeconds(5));
    List<String> none = List.of("no-alternative-names");
    assertEquals(none, ids(judge.judge(with(List.of()), "x")), "for anything");
    assertEquals(none, ids(judge.judge(with(List.of(Oids.SERVER_AUTH)), "x")));
    assertEquals(none, ids(judge.judge(with(List.of(Oids.ANY_USAGE)), "x")));
    assertEquals(List.of(), ids(judge.judge(with(List.of(Oids.CLIENT_AUTH)), "x")));
    assertEquals(
        none, ids(judge.judge(with(List.of(), GeneralName.ofEmail("a@lanternfish.example")), "x")));
    assertEquals(
        List.of(),
        ids(judge.judge(with(List.of(), GeneralName.ofHost("a.lanternfish.example")), "x")));
    assertEquals(List.of(), ids(judge.judge(root(), "x")), "an authority names none");
    assertTrue(CertificateJudge.isForServers(with(List.of())));
    assertFalse(CertificateJudge.isForServers(with(List.of(Oids.CODE_SIGNING))));
  }

  @Test
  void theHostsThatAreCoveredAreListed() {
    List<GeneralName> hosts = new ArrayList<>();
    assertEquals("no host at all", CertificateJudge.covered(with(List.of())));
    for (int i = 0; i < 5; i++) {
      hosts.add(GeneralName.ofHost("h" + i + ".example"));
    }
    String five = CertificateJudge.covered(with(List.of(), hosts.toArray(GeneralName[]::new)));
    assertEquals("h0.example, h1.example, h2.example, h3.example, h4.example", five);
    hosts.add(GeneralName.ofHost("h5.example"));
    String six = CertificateJudge.covered(with(List.of(), hosts.toArray(GeneralName[]::new)));
    assertEquals(five + " and 1 more", six);
    Finding other =
        CertificateJudge.host(CATALOGUE.certificate(), HostName.parse("h9.example"), "x")
            .orElseThrow();
    assertEquals(FindingKind.HOST_NOT_COVERED, other.kind());
    assertEquals(List.of("h9.example"), other.about().names());
    assertTrue(other.statement().contains("It covers catalogue.lanternfish.example."));
    assertEquals(
        Optional.empty(),
        CertificateJudge.host(
            CATALOGUE.certificate(), HostName.parse("Catalogue.Lanternfish.example"), "x"));
  }

  @Test
  void whatACertificateIsForFollowsItsExtendedKeyUsage() {
    assertEquals(List.of(Purpose.SERVER), Purpose.of(with(Use.SERVER.purposes())));
    assertEquals(List.of(Purpose.CLIENT), Purpose.of(with(Use.CLIENT.purposes())));
    List<Purpose> both = List.of(Purpose.values());
    assertEquals(both, Purpose.of(with(Use.BOTH.purposes())));
    assertEquals(both, Purpose.of(with(List.of())));
    assertEquals(both, Purpose.of(with(List.of(Oids.ANY_USAGE))));
    assertEquals(List.of(), Purpose.of(with(List.of(Oids.CODE_SIGNING))));
    assertTrue(Purpose.SERVER.isNamedBy(with(List.of())));
    assertFalse(Purpose.SERVER.isNamedBy(with(List.of(Oids.ANY_USAGE))), "any is not named");
    assertFalse(Purpose.CLIENT.isNamedBy(with(Use.SERVER.purposes())));
  }

  @Test
  void rootsThatAreKnownStandBeforeThoseOfThePlatform() {
    SystemRoots none = SystemRoots.none();
    assertEquals(Optional.empty(), none.issuerOf(issuing()));
    SystemRoots known = none.behind(List.of(issuing(), root()));
    assertEquals(List.of(root()), List.copyOf(known.all()), "an intermediate is no root");
    assertEquals(Optional.of(root()), known.issuerOf(issuing()));
    assertEquals(Optional.empty(), known.issuerOf(CERTIFICATE), "its issuer is no root");
    assertEquals(known.all(), known.behind(List.of()).all());
    SystemRoots platform = SystemRoots.ofPlatform();
    assertFalse(platform.all().isEmpty());
    assertTrue(platform.all().stream().allMatch(Certificate::isSelfIssued));
    Certificate one = platform.all().iterator().next();
    assertEquals(Optional.of(one), platform.issuerOf(one));
  }
}
