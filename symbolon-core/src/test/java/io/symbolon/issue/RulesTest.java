// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.RANDOM;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.rule.BoundedMatch;
import io.symbolon.issue.rule.RuleCheck;
import io.symbolon.issue.rule.Rules;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import java.time.Duration;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
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

  private static Rules.HostRule hosts(int least, int most, GeneralName.NameForm... forms) {
    return new Rules.HostRule(true, true, false, List.of(), Set.of(forms), least, most);
  }

  private static Rules lax(Map<Oid, Rules.PartRule> parts, Rules.HostRule hosts) {
    return new Rules("Tidewater Desk", parts, true, hosts, List.of(), Set.of());
  }

  private static List<Finding> of(Rules rules, String subject, GeneralName... names) {
    RequestDraft draft =
        new RequestDraft(DistinguishedName.parse(subject), List.of(names), Use.CLIENT);
    return RuleCheck.check(rules, draft, EC, "x");
  }

  private static List<String> ids(List<Finding> findings) {
    return findings.stream().map(Finding::id).toList();
  }

  @Test
  void countsOfNamesAreKeptToTheLastOne() {
    GeneralName a = GeneralName.ofHost("a.example");
    GeneralName b = GeneralName.ofHost("b");
    GeneralName c = GeneralName.ofHost("www.c.example");
    Rules one = lax(Map.of(), hosts(1, 2));
    assertEquals(List.of("rule-host-count"), ids(of(one, "CN=x")));
    assertEquals(List.of(), ids(of(one, "CN=x", a)));
    assertEquals(List.of(), ids(of(one, "CN=x", a, b)));
    List<Finding> many = of(one, "CN=x", a, b, c);
    assertEquals(List.of("rule-host-count"), ids(many));
    assertTrue(many.get(0).statement().contains("at most 2"), many.get(0).statement());
    assertTrue(many.get(0).remedy().advice().contains("several certificates"));
    assertTrue(of(one, "CN=x").get(0).statement().contains("at least 1"));
    assertTrue(of(one, "CN=x").get(0).statement().startsWith("Tidewater Desk wants "));
    GeneralName mail = GeneralName.ofEmail("a@lanternfish.example");
    Rules dns = lax(Map.of(), hosts(0, 9, GeneralName.NameForm.DNS));
    assertEquals(List.of("rule-name-kind"), ids(of(dns, "CN=x", a, mail)));
    Rules qualified =
        lax(Map.of(), new Rules.HostRule(true, true, true, List.of(), Set.of(), 0, 9));
    assertEquals(List.of("rule-host-not-qualified"), ids(of(qualified, "CN=x", a, b)));
    assertEquals(List.of(), ids(of(qualified, "CN=x", GeneralName.ofHost("a.b"))));
  }

  @Test
  void partsHaveTheirLengthsAndForms() {
    Map<Oid, Rules.PartRule> parts = new LinkedHashMap<>();
    parts.put(
        Oids.OU,
        new Rules.PartRule(
            Rules.Presence.OPTIONAL,
            List.of("Buoys", "Reef"),
            Optional.empty(),
            Optional.empty(),
            0,
            64,
            Rules.Form.TEXT,
            2));
    parts.put(
        Oids.UID,
        new Rules.PartRule(
            Rules.Presence.REQUIRED,
            List.of(),
            Optional.of("[A-Z0-9]+"),
            Optional.empty(),
            3,
            5,
            Rules.Form.TEXT,
            1));
    parts.put(Oids.EMAIL, form(Rules.Form.EMAIL));
    parts.put(
        Oids.C,
        new Rules.PartRule(
            Rules.Presence.FORBIDDEN,
            List.of(),
            Optional.empty(),
            Optional.empty(),
            0,
            64,
            Rules.Form.TEXT,
            1));
    Rules rules = lax(parts, hosts(0, 9));
    assertEquals(List.of(), ids(of(rules, "UID=ABC")));
    assertEquals(List.of(), ids(of(rules, "UID=ABCDE,OU=Buoys,OU=Reef,ST=any")));
    List<Finding> shorter = of(rules, "UID=AB");
    assertEquals(List.of("rule-part-length"), ids(shorter));
    assertTrue(shorter.get(0).statement().contains("at least 3 characters; 'AB' has 2"));
    assertTrue(of(rules, "UID=ABCDEF").get(0).statement().contains("at most 5 characters"));
    List<Finding> small = of(rules, "UID=abc");
    assertTrue(small.get(0).statement().contains("of the form [A-Z0-9]+, not 'abc'"));
    List<Finding> fixed = of(rules, "UID=ABC,OU=Kelp");
    assertTrue(fixed.get(0).statement().contains("to be 'Buoys' or 'Reef', not 'Kelp'"));
    List<Finding> three = of(rules, "UID=ABC,OU=Buoys,OU=Reef,OU=Buoys");
    assertTrue(three.get(0).statement().contains("at most 2 times; it is there 3 times"));
    assertEquals(List.of("rule-part-forbidden"), ids(of(rules, "UID=ABC,C=IS")));
    assertEquals(List.of("rule-email"), ids(of(rules, "UID=ABC,emailAddress=nobody")));
    assertEquals(List.of(), ids(of(rules, "UID=ABC,emailAddress=buoys@lanternfish.example")));
    Map<Oid, Rules.PartRule> needed = new LinkedHashMap<>();
    needed.put(Oids.O, Objects.requireNonNull(rules("L[0-9]+").parts().get(Oids.O)));
    needed.put(Oids.UID, pattern("L[0-9]+", "the number of the buoy"));
    List<Finding> missing = of(lax(needed, hosts(0, 9)), "CN=x");
    assertEquals("Add O=Lanternfish Observatory.", missing.get(0).remedy().advice());
    assertEquals("Add it: the number of the buoy.", missing.get(1).remedy().advice());
  }

  private static Rules.PartRule form(Rules.Form form) {
    return new Rules.PartRule(
        Rules.Presence.OPTIONAL, List.of(), Optional.empty(), Optional.empty(), 0, 64, form, 1);
  }

  @Test
  void whatAnyReceiverWantsAndWhatThisOneDoesAreToldTogether() {
    Rules rules = rules("L[0-9]{5}");
    RequestDraft good =
        RequestDraft.of(
            DistinguishedName.parse(GOOD),
            List.of(GeneralName.ofHost("b.lanternfish.example")),
            Use.SERVER);
    assertEquals(List.of(), RuleCheck.all(good, EC, Optional.of(rules), "x"));
    assertEquals(List.of("rule-key"), ids(RuleCheck.all(good, RSA, Optional.of(rules), "x")));
    assertEquals(List.of(), RuleCheck.all(good, RSA, Optional.empty(), "x"));
    RequestDraft abroad =
        RequestDraft.of(
            DistinguishedName.parse(GOOD.replace("C=IS", "C=UK").replace("UID=L", "UID=T")),
            List.of(GeneralName.ofHost("b.lanternfish.example")),
            Use.SERVER);
    assertEquals(
        List.of("country-unknown", "rule-part-pattern"),
        ids(RuleCheck.ofDraft(abroad, Optional.of(rules), "x")),
        "the country is told once");
    assertEquals(List.of("country-unknown"), ids(RuleCheck.ofDraft(abroad, Optional.empty(), "x")));
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
