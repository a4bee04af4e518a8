// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.RANDOM;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import java.time.Duration;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RulesTest {
  private static final SubjectPublicKeyInfo EC =
      SubjectPublicKeyInfo.of(KeyKind.EC_P256.generate(RANDOM).getPublic());
  private static final SubjectPublicKeyInfo RSA =
      SubjectPublicKeyInfo.of(KeyKind.RSA_2048.generate(RANDOM).getPublic());

  private static Rules.PartRule required(Rules.Form form) {
    return new Rules.PartRule(
        Rules.Presence.REQUIRED, List.of(), Optional.empty(), Optional.empty(), 0, 64, form, 1);
  }

  private static Rules.PartRule pattern(String pattern, String says) {
    return new Rules.PartRule(
        Rules.Presence.REQUIRED,
        List.of(),
        Optional.of(pattern),
        Optional.of(says),
        0,
        64,
        Rules.Form.TEXT,
        1);
  }

  private static Rules rules(String userId) {
    Map<Oid, Rules.PartRule> parts = new LinkedHashMap<>();
    parts.put(Oids.CN, required(Rules.Form.HOST));
    parts.put(
        Oids.O,
        new Rules.PartRule(
            Rules.Presence.REQUIRED,
            List.of("Lanternfish Observatory"),
            Optional.empty(),
            Optional.empty(),
            0,
            64,
            Rules.Form.TEXT,
            1));
    parts.put(Oids.L, required(Rules.Form.PLACE));
    parts.put(Oids.C, required(Rules.Form.COUNTRY));
    parts.put(Oids.UID, pattern(userId, "a letter and five digits"));
    return new Rules(
        "Tidewater Desk",
        parts,
        false,
        new Rules.HostRule(
            false,
            false,
            true,
            List.of("lanternfish.example"),
            Set.of(GeneralName.NameForm.DNS),
            1,
            3),
        List.of(KeyKind.RSA_3072, KeyKind.EC_P256),
        Set.of(Use.SERVER));
  }

  private static List<String> broken(
      String userId, SubjectPublicKeyInfo key, Use use, String subject, String... hosts) {
    RequestDraft draft =
        RequestDraft.of(
            DistinguishedName.parse(subject),
            Arrays.stream(hosts).map(GeneralName::ofHost).toList(),
            use);
    return RuleCheck.check(rules(userId), draft, key, "x").stream().map(Finding::id).toList();
  }

  private static final String GOOD =
      "UID=L00417,CN=ingest.lanternfish.example,O=Lanternfish Observatory,L=Port Nilsen,C=IS";

  @Test
  void whatTheReceiverWantsBreaksNoRule() {
    assertEquals(List.of(), broken("L[0-9]{5}", EC, Use.SERVER, GOOD));
  }

  @ParameterizedTest
  @CsvSource({
    "CN=ingest.lanternfish.example, CN=ingest, rule-host-not-qualified",
    "CN=ingest.lanternfish.example, CN=www.lanternfish.example, rule-www",
    "CN=ingest.lanternfish.example, CN=*.lanternfish.example, rule-wildcard",
    "CN=ingest.lanternfish.example, CN=ingest.other.example, rule-domain",
    "O=Lanternfish Observatory, O=Lanternfish, rule-part-fixed",
    "L=Port Nilsen, L=Pt Nilsen, rule-place-shortened",
    "L=Port Nilsen, L=N.Y., rule-place-shortened",
    "L=Port Nilsen, L=NYC, rule-place-shortened",
    "C=IS, C=UK, rule-country",
    "UID=L00417, UID=T00417, rule-part-pattern",
    "UID=L00417, 'UID=L00417,UID=L00418', rule-part-repeated",
    "'L=Port Nilsen,', '', rule-part-missing",
    "O=Lanternfish Observatory, 'O=Lanternfish Observatory,OU=Buoys', rule-part-forbidden",
  })
  void eachBreakIsNamed(String from, String to, String id) {
    assertTrue(GOOD.contains(from), from);
    assertEquals(
        List.of(id),
        broken("L[0-9]{5}", EC, Use.SERVER, GOOD.replace(from, to), "b.lanternfish.example"));
  }

  @Test
  void allBreaksAreToldAtOnce() {
    assertEquals(
        List.of(
            "rule-host-not-qualified",
            "rule-part-missing",
            "rule-part-missing",
            "rule-part-missing",
            "rule-part-missing",
            "rule-host-count",
            "rule-use",
            "rule-key"),
        broken("L[0-9]{5}", RSA, Use.CLIENT, "CN=buoy-017"));
  }

  @Test
  void aPatternThatWouldTryForEverIsStopped() {
    SymbolonException e =
        assertTimeoutPreemptively(
            Duration.ofMinutes(2),
            () ->
                assertThrows(
                    SymbolonException.class,
                    () ->
                        broken(
                            "(.*a){20}b", EC, Use.SERVER, GOOD.replace("L00417", "a".repeat(60)))));
    assertEquals(Reason.LIMIT_PASSED, e.reason());
    assertThrows(SymbolonException.class, () -> BoundedMatch.check("(unclosed"));
  }
}
