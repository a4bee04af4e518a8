// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.cli.request.RequestCommand;
import io.symbolon.fixture.Lanternfish;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class RequestCommandTest {
  private static final String SUBJECT =
      "CN=ingest.lanternfish.example,O=Lanternfish Observatory,L=Port Nilsen,C=IS";

  @TempDir Path temp;

  private Path at(String name) {
    return temp.resolve(name);
  }

  private Run request(Object... more) {
    List<Object> line = new ArrayList<>(List.of("request", "--into", at("r.csr")));
    line.addAll(Arrays.asList(more));
    return Run.of(line.toArray());
  }

  private Run sealed(Object... more) {
    List<Object> line = new ArrayList<>(Arrays.asList(more));
    line.addAll(List.of("--seal", "new=" + at("pass")));
    return request(line.toArray());
  }

  private Path rules(String name) throws IOException {
    Path file = at(name + ".yaml");
    try (var in = RequestCommand.class.getResourceAsStream("/demo/rules/" + name + ".yaml")) {
      Files.copy(in, file);
    }
    return file;
  }

  @ParameterizedTest
  @ValueSource(strings = {"key.p12", "key.jks", "key.pem"})
  void theKeyWaitsWhereItWillBeUsed(String keyFile) throws Exception {
    Run run = sealed("--subject", SUBJECT, "--key-into", at(keyFile), "--json");
    assertEquals(0, run.code(), run.err());
    JsonNode asked = run.json().get("request");
    assertEquals(SUBJECT, asked.get("subject").asText());
    assertEquals("ingest.lanternfish.example", asked.get("hosts").get(0).asText());
    assertEquals("EC P-256", asked.get("algorithm").asText());
    assertEquals(asked.get("pem").asText(), Files.readString(at("r.csr")));
    for (String name : List.of(keyFile, "pass")) {
      assertEquals(
          "rw-------",
          PosixFilePermissions.toString(Files.getPosixFilePermissions(at(name))),
          name);
    }
    Run survey =
        Run.of("survey", "--json", at("r.csr"), at(keyFile), "--unlock", "file=" + at("pass"));
    JsonNode status = survey.json().get("requests").get(0);
    assertEquals("waiting", status.get("state").asText());
    assertEquals("valid", status.get("signature").asText());
    assertTrue(status.get("key").asText().contains(keyFile), status.toString());
    if (!keyFile.endsWith("pem")) {
      char[] password = Files.readString(at("pass")).strip().toCharArray();
      KeyStore store = KeyStore.getInstance(at(keyFile).toFile(), password);
      assertTrue(store.isKeyEntry("ingest"));
      X509Certificate waiting = (X509Certificate) store.getCertificate("ingest");
      waiting.verify(waiting.getPublicKey());
      assertEquals(
          waiting.getPublicKey().getAlgorithm(), store.getKey("ingest", password).getAlgorithm());
    }
  }

  @Test
  void nothingIsWrittenWhereOneFileCantBe() throws Exception {
    Files.writeString(at("r.csr"), "mine");
    Run run = sealed("--host", "a.example", "--key-into", at("key.p12"));
    assertEquals(4, run.code());
    assertTrue(run.err().contains("r.csr was not written"), run.err());
    assertFalse(Files.exists(at("key.p12")));
    assertFalse(Files.exists(at("pass")));
    assertEquals("mine", Files.readString(at("r.csr")));
  }

  @Test
  void anExistingKeyAsksWithoutBeingWrittenAgain() {
    Path key = Lanternfish.file(temp, "old.key", Lanternfish.keyPem(Lanternfish.INGEST));
    Run run = request("--key", key, "--subject", SUBJECT, "--for", "both", "--as", "der", "--json");
    assertEquals(0, run.code(), run.err());
    assertEquals(
        Lanternfish.INGEST.certificate().keyId(), run.json().get("request").get("keyId").asText());
    assertFalse(run.json().has("key"));
    assertEquals(
        "der", Run.of("survey", "--json", at("r.csr")).json().at("/files/0/format").asText());
  }

  @Test
  void theSameIsAskedForAgainWithANewKeyOrTheOldOne() {
    Path old = Lanternfish.file(temp, "old.pem", concat());
    Run fresh = sealed("--like", old, "--key-into", at("key.p12"), "--json");
    assertEquals(0, fresh.code(), fresh.err());
    JsonNode asked = fresh.json().get("request");
    assertEquals(
        Lanternfish.INGEST.certificate().subject().toString(), asked.get("subject").asText());
    assertEquals(Lanternfish.HOST, asked.get("hosts").get(0).asText());
    assertFalse(asked.get("keyId").asText().equals(Lanternfish.INGEST.certificate().keyId()));
    Run same =
        Run.of(
            "request",
            "--like",
            old,
            "--same-key",
            "--host",
            "b.example",
            "--into",
            at("s.csr"),
            "--json");
    assertEquals(0, same.code(), same.err());
    JsonNode again = same.json().get("request");
    assertEquals(Lanternfish.INGEST.certificate().keyId(), again.get("keyId").asText());
    assertTrue(again.get("hosts").toString().contains("b.example"));
    // A request can be asked for again, too.
    Run third = Run.of("request", "--like", at("s.csr"), "--key", old, "--into", at("t.csr"));
    assertEquals(0, third.code(), third.err());
  }

  private static byte[] concat() {
    byte[] key = Lanternfish.keyPem(Lanternfish.INGEST);
    byte[] certificate = Lanternfish.pem(Lanternfish.INGEST.certificate());
    byte[] both = Arrays.copyOf(key, key.length + certificate.length);
    System.arraycopy(certificate, 0, both, key.length, certificate.length);
    return both;
  }

  @Test
  void aSecondKeyJoinsAKeystoreAndTheFirstStays() {
    assertEquals(0, sealed("--host", "a.lanternfish.example", "--key-into", at("key.p12")).code());
    Run kept =
        Run.of(
            "request",
            "--host",
            "b.lanternfish.example",
            "--into",
            at("b.csr"),
            "--key-into",
            at("key.p12"),
            "--unlock",
            "file=" + at("pass"));
    assertEquals(4, kept.code(), "an existing keystore needs --replace");
    Run added =
        Run.of(
            "request",
            "--host",
            "b.lanternfish.example",
            "--into",
            at("b.csr"),
            "--key-into",
            at("key.p12"),
            "--unlock",
            "file=" + at("pass"),
            "--replace");
    assertEquals(0, added.code(), added.err());
    JsonNode holdings =
        Run.of("survey", "--json", at("key.p12"), "--unlock", "file=" + at("pass"))
            .json()
            .at("/files/0/holdings");
    assertEquals(List.of("a", "b", "a", "b"), holdings.findValuesAsText("alias"));
    Run twice =
        Run.of(
            "request",
            "--host",
            "b.lanternfish.example",
            "--into",
            at("c.csr"),
            "--key-into",
            at("key.p12"),
            "--unlock",
            "file=" + at("pass"),
            "--replace");
    assertEquals(4, twice.code());
    assertTrue(twice.err().contains("an entry 'b' already"), twice.err());
    assertFalse(Files.exists(at("c.csr")));
  }

  @Test
  void whatBreaksTheRulesIsNotWrittenAndAllOfItIsTold() throws Exception {
    Path rules = rules("tidewater-servers");
    Run good = sealed("--subject", SUBJECT, "--key-into", at("k.p12"), "--rules", rules);
    assertEquals(0, good.code(), good.out() + good.err());
    assertTrue(good.out().contains("those of Tidewater Certificate Desk"), good.out());
    Run bad =
        Run.of(
            "request",
            "--subject",
            "CN=www.lanternfish.example,O=Lanternfish,L=Pt. Nilsen,C=UK",
            "--host",
            "*.lanternfish.example",
            "--key-type",
            "rsa-2048",
            "--rules",
            rules,
            "--into",
            at("bad.csr"),
            "--key-into",
            at("bad.p12"),
            "--seal",
            "empty",
            "--json");
    assertEquals(4, bad.code());
    assertEquals(
        List.of(
            "country-unknown",
            "rule-www",
            "rule-part-fixed",
            "rule-place-shortened",
            "rule-wildcard",
            "rule-key"),
        bad.findingIds());
    assertFalse(Files.exists(at("bad.csr")));
    assertFalse(Files.exists(at("bad.p12")));
    // The same check for a request that was made elsewhere.
    Run elsewhere =
        Run.of(
            "request",
            "--host",
            "ingest",
            "--into",
            at("e.csr"),
            "--key-into",
            at("e.p12"),
            "--seal",
            "empty");
    assertEquals(0, elsewhere.code(), elsewhere.err());
    Run survey = Run.of("survey", at("e.csr"), "--rules", rules, "--json");
    assertEquals(1, survey.code());
    assertTrue(
        survey.findingIds().containsAll(List.of("rule-part-missing", "rule-host-not-qualified")),
        survey.out());
  }

  @ParameterizedTest
  @CsvSource({"trial, T00417, 0", "live, L00417, 0", "live, T00417, 4", "trial, L00417, 4"})
  void theUserIdDiffersBetweenTrialAndLive(String variant, String userId, int code)
      throws Exception {
    Run run =
        sealed(
            "--subject",
            "UID=" + userId + ",CN=buoy-017,O=Lanternfish Observatory",
            "--for",
            "client",
            "--key-into",
            at("k.p12"),
            "--rules",
            rules("buoys"),
            "--variant",
            variant);
    assertEquals(code, run.code(), run.out() + run.err());
  }

  @ParameterizedTest
  @CsvSource({
    "'receiver: x\nsubjects: {}', 'Line 2', subjects",
    "'subject: {CN: {presence: always}}', 'Line 1', required",
    "'subject:\n  XX: {}', 'Line 2', XX",
    "'keys: [rsa-1024]', 'Line 1', rsa-1024",
    "'subject: {CN: {pattern: \"(\"}}', 'Line 1', regular expression",
    "'a: b: c', 'Line 1', not YAML",
    "'- a', 'Line 1', Names with values",
    "'subject: {CN: {most: many}}', 'Line 1', whole number",
    "'hosts: {wildcards: no}', 'Line 1', allowed or forbidden",
    "'variants: {a: {}, b: {}}', variant, 'a, b'",
    "'hosts: {www: allowed, www: allowed}', 'Line 1', twice",
  })
  void rulesThatCantBeUsedAreNamedWithTheirLine(String yaml, String line, String told) {
    Path rules = Lanternfish.file(temp, "rules.yaml", yaml);
    Run run = request("--host", "a.example", "--rules", rules);
    assertTrue(run.code() == 3 || run.code() == 2, run.err());
    assertTrue(run.err().contains(line) && run.err().contains(told), run.err());
  }

  @Test
  void countriesAreReadAsTextAndNotAsTruthValues() {
    Path rules =
        Lanternfish.file(temp, "rules.yaml", "subject: {C: {presence: required, values: [NO]}}");
    Run run = sealed("--subject", "CN=a.example,C=NO", "--key-into", at("k.p12"), "--rules", rules);
    assertEquals(0, run.code(), run.out() + run.err());
  }

  @Test
  void aPersonIsAskedAndTheAnswersBecomeACommandLine() throws Exception {
    List<String> answers =
        List.of(
            "server",
            "not a host",
            "ingest.lanternfish.example",
            "ingest-2.lanternfish.example",
            "",
            "Lanternfish Observatory",
            "",
            "Port Nilsen",
            "",
            "IS",
            "",
            at("q.csr").toString(),
            at("q.p12").toString(),
            "new=" + at("q.pass"),
            "yes");
    Run run = Run.with(Map.of("ATTENDED", "yes"), answers, "request");
    assertEquals(0, run.code(), run.out() + run.err());
    assertTrue(run.out().contains("is not a host name") || run.out().contains("A host name"));
    assertTrue(
        run.out()
            .contains(
                "symbolon request --for server --subject 'CN=ingest.lanternfish.example,"
                    + "O=Lanternfish Observatory,L=Port Nilsen,C=IS' --host"
                    + " ingest.lanternfish.example --host ingest-2.lanternfish.example --key-type"
                    + " ec-p256 --into "),
        run.out());
    assertTrue(Files.exists(at("q.csr")) && Files.exists(at("q.p12")));
    List<String> no = new ArrayList<>(answers);
    no.set(no.size() - 4, at("n.csr").toString());
    no.set(no.size() - 3, at("n.p12").toString());
    no.set(no.size() - 2, "new=" + at("n.pass"));
    no.set(no.size() - 1, "no");
    Run refused = Run.with(Map.of("ATTENDED", "yes"), no, "request");
    assertEquals(0, refused.code());
    assertTrue(refused.out().contains("Nothing was written."));
    assertFalse(Files.exists(at("n.csr")));
    Run unattended = Run.of("request");
    assertEquals(2, unattended.code());
    assertTrue(unattended.err().contains("No subject and no host"), unattended.err());
  }

  @Test
  void eachAnswerIsJudgedAtOnceByTheRulesAndCanBeTakenBack() throws Exception {
    Path rules =
        Lanternfish.file(
            temp,
            "rules.yaml",
            """
            receiver: Tidewater Certificate Desk
            subject:
              CN: {presence: required, form: host}
              L: {presence: required, form: place}
              C: {presence: optional, form: country}
            others: forbidden
            hosts: {wildcards: forbidden, domains: [lanternfish.example], least: 2}
            keys: [rsa-3072, ec-p256]
            uses: [server]
            """);
    Path taken = Lanternfish.file(temp, "taken.csr", "here already");
    List<String> answers =
        List.of(
            "client", // the receiver takes servers alone
            "server",
            "*.lanternfish.example", // no wildcard
            "ingest.elsewhere.example", // not the domain
            "ingest.lanternfish.example",
            "", // two at least
            "10.0.0.300", // no host
            "ingest-2.lanternfish.example",
            "",
            "St. Nilsen", // shortened
            "<", // back to the hosts
            "<",
            "", // the second host again, as it stands in brackets
            "",
            "Port Nilsen",
            "is", // no code
            "IS",
            "ed25519", // not taken
            "rsa-3072",
            taken.toString(), // there already
            at("q.csr").toString(),
            at("q.csr").toString(), // the request goes there
            at("q.p12").toString(),
            "env=NOWHERE", // no such variable
            "new=" + at("q.pass"),
            "<", // back from the last question of all
            "new=" + at("other.pass"),
            "yes");
    Run run =
        Run.with(Map.of("ATTENDED", "yes"), answers, "request", "--rules", rules, "--lasts", "90d");
    assertEquals(0, run.code(), run.out() + run.err());
    for (String told :
        List.of(
            "wants requests for server alone",
            "wants no wildcard",
            "wants hosts in lanternfish.example alone",
            "at least 2 subject alternative names; there are 1",
            "looks like an IP address and is none",
            "Another host [ingest-2.lanternfish.example]: ",
            "looks shortened",
            "not a country code",
            "The receiver takes rsa-3072, ec-p256",
            "The request goes there.",
            "There is no environment variable",
            "Password from [new=" + at("q.pass") + "]: ",
            "kept")) {
      assertTrue(run.out().contains(told), told + run.out());
    }
    assertTrue(run.out().contains("request --rules " + rules + " --lasts 90d --for server"));
    assertTrue(Files.exists(at("other.pass")) && Files.exists(at("q.p12")), run.out());
    assertFalse(Files.exists(at("q.pass")));
    assertEquals("here already", Files.readString(taken));
  }

  @Test
  void whatWasAnsweredIsNotLostWhereNobodyAnswersAnyMore() {
    Run run =
        Run.with(
            Map.of("ATTENDED", "yes"),
            List.of(
                "<", "client", "buoy-017", "Lanternfish Observatory", "", "", "", "", "", "rsa-7"),
            "request");
    assertEquals(2, run.code());
    assertTrue(run.out().contains("rsa-7"), "a kind of key is judged at once, without rules too");
    assertTrue(run.out().contains("This is the first question."), run.out());
    assertTrue(
        run.err().contains("--for client --subject 'CN=buoy-017,O=Lanternfish Observatory'"),
        run.err());
  }

  @Test
  void anAddressOfMailForAServerIsToldBeforehand() {
    Run run =
        sealed(
            "--host",
            "a.lanternfish.example",
            "--email",
            "ops@lanternfish.example",
            "--key-into",
            at("k.p12"),
            "--json");
    assertEquals(0, run.code(), run.err());
    assertEquals(List.of("email-for-server"), run.findingIds());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "--subject CN=a.example,O=|2|empty",
        "--subject CN=a\\00b.example|4|can't be seen",
        "--host a.example --key-type rsa-1024|2|rsa-2048",
        "--host a.example --for someone|2|server, client or both",
        "--subject CN=Ingest|4|names no host",
        "--host a.example --lasts forever|2|not a lifetime",
        "--host a.example --same-key|2|--like",
        "--host a.example --as p12|2|no format",
        "--email nobody --host a.example|2|e-mail",
      })
  void aLineThatIsWrongIsToldWhy(String line, int code, String told) {
    List<Object> words = new ArrayList<>(Arrays.asList((Object[]) line.split(" ", -1)));
    words.addAll(List.of("--key-into", at("k.p12"), "--seal", "empty"));
    Run run = request(words.toArray());
    assertEquals(code, run.code(), run.out() + run.err());
    assertTrue((run.out() + run.err()).contains(told), run.out() + run.err());
    assertFalse(Files.exists(at("k.p12")));
    assertFalse(Files.exists(at("r.csr")));
  }
}
