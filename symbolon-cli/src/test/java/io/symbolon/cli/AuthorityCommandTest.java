// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.fixture.Lanternfish;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** From nothing to an accepted certificate, as an administrator would type it. */
class AuthorityCommandTest {
  @TempDir Path temp;

  private Path at(String name) {
    return temp.resolve(name);
  }

  private String unlock(String name) {
    return "file=" + at(name + ".pass");
  }

  private static Run ok(Object... line) {
    Run run = Run.of(line);
    assertEquals(0, run.code(), Arrays.toString(line) + run.out() + run.err());
    return run;
  }

  @BeforeEach
  void found() {
    ok(
        "authority",
        "found",
        at("root"),
        "--subject",
        "CN=Lanternfish Root",
        "--seal",
        "new=" + at("root.pass"));
    ok(
        "authority",
        "found",
        at("issuing"),
        "--subject",
        "CN=Lanternfish Issuing A",
        "--under",
        at("root"),
        "--unlock",
        unlock("root"),
        "--seal",
        "new=" + at("issuing.pass"),
        "--permit",
        "lanternfish.example");
  }

  private Run sign(Object... more) {
    List<Object> line =
        new ArrayList<>(
            List.of(
                "authority",
                "sign",
                at("r.csr"),
                "--by",
                at("issuing"),
                "--unlock",
                unlock("issuing")));
    line.addAll(Arrays.asList(more));
    return Run.of(line.toArray());
  }

  private void request(Object... more) {
    List<Object> line =
        new ArrayList<>(
            List.of(
                "request",
                "--into",
                at("r.csr"),
                "--key-into",
                at("key.p12"),
                "--seal",
                "new=" + at("key.pass")));
    line.addAll(Arrays.asList(more));
    ok(line.toArray());
  }

  @ParameterizedTest
  @ValueSource(strings = {"reply.pem", "reply.der", "reply.p7b"})
  void aReplyFindsItsKeyByItself(String reply) {
    request("--host", "ingest.lanternfish.example", "--for", "both", "--alias", "odd name");
    assertEquals(0, sign("--into", at(reply)).code());
    // In DER there is the certificate alone: the intermediate comes from another file.
    Run joined =
        ok(
            "join",
            at("issuing").resolve("authority.pem"),
            at(reply),
            at("key.p12"),
            "--unlock",
            unlock("key"),
            "--replace",
            "--json");
    assertEquals(List.of(), joined.findingIds());
    JsonNode credential = joined.json().get("credential");
    assertEquals("odd name", credential.get("alias").asText());
    assertTrue(credential.get("inPlace").asBoolean());
    assertEquals(2, credential.get("chain").size());
    JsonNode survey =
        ok("survey", at("key.p12"), at("r.csr"), "--unlock", unlock("key"), "--json").json();
    assertEquals("answered", survey.at("/requests/0/state").asText());
    // And back again: the key waits as before.
    ok("undo", at("key.p12"));
    JsonNode before =
        ok("survey", at("key.p12"), at("r.csr"), "--unlock", unlock("key"), "--json").json();
    assertEquals("waiting", before.at("/requests/0/state").asText());
  }

  @Test
  void whatCameBackIsComparedWithWhatWasAskedFor() {
    request(
        "--host",
        "ingest.lanternfish.example",
        "--host",
        "b.lanternfish.example",
        "--for",
        "both",
        "--lasts",
        "2y");
    assertEquals(
        0,
        sign(
                "--into",
                at("reply.pem"),
                "--host",
                "c.lanternfish.example",
                "--for",
                "client",
                "--lasts",
                "30d")
            .code());
    Run joined =
        Run.of(
            "join",
            at("key.p12"),
            at("reply.pem"),
            "--unlock",
            unlock("key"),
            "--into",
            at("out.p12"),
            "--seal",
            "new=" + at("out.pass"),
            "--json");
    assertEquals(1, joined.code());
    assertTrue(
        joined
            .findingIds()
            .containsAll(
                List.of(
                    "reply-names-dropped",
                    "reply-names-added",
                    "reply-use-missing",
                    "reply-shorter-validity")),
        joined.out());
    assertFalse(joined.json().at("/credential/inPlace").asBoolean());
    Run survey = Run.of("survey", at("r.csr"), at("reply.pem"), "--json");
    assertTrue(survey.findingIds().contains("reply-names-dropped"), survey.out());
  }

  @Test
  void whatWasIssuedIsIssuedAgainLikeIt() {
    List<Object> by =
        List.of("authority", "issue", "--by", at("issuing"), "--unlock", unlock("issuing"));
    List<Object> first = new ArrayList<>(by);
    first.addAll(
        List.of(
            "--subject",
            "CN=buoy-017,O=Lanternfish Observatory",
            "--host",
            "buoy-017.lanternfish.example",
            "--for",
            "both",
            "--key-type",
            "ec-p384",
            "--alias",
            "buoy",
            "--into",
            at("one.p12"),
            "--seal",
            "new=" + at("one.pass")));
    ok(first.toArray());
    pause(); // dates have whole seconds
    List<Object> again = new ArrayList<>(by);
    again.addAll(
        List.of(
            "--like",
            at("one.p12"),
            "--unlock",
            unlock("one"),
            "--into",
            at("two.p12"),
            "--seal",
            "new=" + at("two.pass")));
    ok(again.toArray());
    Run compared =
        ok(
            "compare",
            at("one.p12"),
            at("two.p12"),
            "--unlock",
            unlock("one"),
            "--unlock",
            unlock("two"),
            "--json");
    again.addAll(List.of("--list", at("one.p12")));
    assertEquals(2, Run.of(again.toArray()).code(), "many are not made like one");
    // A new key and new dates, and all else as it was: kind of key, subject, names, use, alias.
    assertEquals(
        List.of("validity", "key"), compared.json().findValuesAsText("field"), compared.out());
  }

  @Test
  void aRenewalSupersedesTheRequestBefore() {
    request("--host", "ingest.lanternfish.example");
    assertEquals(0, sign("--into", at("one.pem")).code());
    pause();
    ok(
        "request",
        "--like",
        at("one.pem"),
        "--into",
        at("two.csr"),
        "--key-into",
        at("two.p12"),
        "--seal",
        "new=" + at("two.pass"));
    ok(
        "authority",
        "sign",
        at("two.csr"),
        "--by",
        at("issuing"),
        "--unlock",
        unlock("issuing"),
        "--into",
        at("two.pem"));
    JsonNode survey =
        Run.of("survey", at("r.csr"), at("two.csr"), at("one.pem"), at("two.pem"), "--json").json();
    assertEquals(
        List.of("superseded", "answered"), survey.get("requests").findValuesAsText("state"));
  }

  /** Validity counts whole seconds. */
  private static void pause() {
    try {
      Thread.sleep(1100);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Test
  void whatMustNotBeSignedIsRefusedAndOnNoRecord() throws Exception {
    request("--host", "ingest.other.example");
    Run refused = sign("--into", at("reply.pem"), "--json");
    assertEquals(4, refused.code());
    assertEquals(List.of("name-not-permitted"), refused.findingIds());
    byte[] sound = Files.readAllBytes(at("r.csr"));
    byte[] changed = sound.clone();
    String text = Files.readString(at("r.csr"));
    int middle = text.indexOf('\n', text.length() - 60) - 5;
    changed[middle] = (byte) (changed[middle] == 'A' ? 'B' : 'A');
    Files.write(at("r.csr"), changed);
    Run broken = sign("--into", at("reply.pem"));
    assertTrue(broken.code() == 4 || broken.code() == 3, broken.err());
    Files.write(at("r.csr"), sound);
    assertEquals(
        3,
        Run.of(
                "authority",
                "sign",
                at("r.csr"),
                "--by",
                at("issuing"),
                "--unlock",
                unlock("root"),
                "--into",
                at("reply.pem"))
            .code(),
        "the password of another key");
    assertEquals(4, Run.of("authority", "list", temp).code(), "no authority");
    assertFalse(Files.exists(at("reply.pem")));
    assertEquals(
        0, ok("authority", "list", at("issuing"), "--json").json().at("/authority/issued").size());
  }

  @Test
  void credentialsAreIssuedListedAndRevoked() throws Exception {
    ok(
        "authority",
        "issue",
        "--by",
        at("issuing"),
        "--unlock",
        unlock("issuing"),
        "--host",
        "catalogue.lanternfish.example",
        "--into",
        at("catalogue.p12"),
        "--seal",
        "new=" + at("catalogue.pass"),
        "--lasts",
        "9000d");
    Files.writeString(
        at("buoys.txt"), "\uFEFF# buoys\n\nbuoy-001  L00001\nCN=buoy two,O=Lanternfish\n");
    ok(
        "authority",
        "issue",
        "--by",
        at("root"),
        "--unlock",
        unlock("root"),
        "--list",
        at("buoys.txt"),
        "--subject",
        "O=Lanternfish Observatory",
        "--into",
        at("buoys") + "/",
        "--seal",
        "new=" + at("passwords") + "/");
    JsonNode buoy =
        Run.of(
                "survey",
                at("buoys").resolve("buoy-001.p12"),
                "--unlock",
                "file=" + at("passwords").resolve("buoy-001.pass"),
                "--json")
            .json()
            .at("/files/0/holdings");
    assertEquals(
        "CN=buoy-001,UID=L00001,O=Lanternfish Observatory",
        buoy.findValuesAsText("subject").get(0));
    String buoys = ok("authority", "list", at("root"), "--plain").out();
    assertTrue(buoys.contains("buoy-001 (L00001) "), buoys);
    Run unknown =
        Run.of("authority", "revoke", "buoy-999", "--by", at("root"), "--unlock", unlock("root"));
    assertEquals(4, unknown.code());
    ok(
        "authority",
        "revoke",
        "l00001",
        "--by",
        at("root"),
        "--unlock",
        unlock("root"),
        "--reason",
        "superseded");
    JsonNode list = ok("authority", "list", at("root"), "--json").json().at("/authority/issued");
    assertEquals(List.of("valid", "revoked", "valid"), list.findValuesAsText("standing"));
    Run listed = ok("authority", "list", at("root"));
    assertTrue(listed.out().contains("superseded"), listed.out());
    ok("authority", "revoke", "--fresh", "--by", at("root"), "--unlock", unlock("root"));
    Files.writeString(at("root").resolve("register"), "x");
    Run rebuilt = ok("authority", "list", at("root"), "--json");
    assertEquals(List.of("register-rebuilt"), rebuilt.findingIds());
    assertEquals(3, rebuilt.json().at("/authority/issued").size());
  }

  @ParameterizedTest
  @ValueSource(strings = {"a\na", "a b c", "CN=", "CN=a\\00b", "\n# nobody\n", "C=XX,CN=a"})
  void aListWithAWrongLineIssuesNothing(String content) throws IOException {
    Files.writeString(at("list.txt"), content);
    Run run =
        Run.of(
            "authority",
            "issue",
            "--by",
            at("root"),
            "--unlock",
            unlock("root"),
            "--list",
            at("list.txt"),
            "--into",
            at("out") + "/",
            "--seal",
            "new=" + at("passwords") + "/");
    assertTrue(run.code() >= 2 && run.code() <= 4, run.code() + run.err());
    assertTrue(run.err().contains("Line "), run.err());
    assertFalse(Files.exists(at("out")));
  }

  @Test
  void aPersonSeesWhatIsSignedAndSaysYes() {
    request("--host", "ingest.lanternfish.example");
    Object[] line = {
      "authority", "sign", at("r.csr"), "--by", at("issuing"), "--into", at("reply.pem")
    };
    String password = read(at("issuing.pass"));
    Run no = Run.with(Map.of("ATTENDED", "1"), List.of(password, "no"), line);
    assertEquals(0, no.code(), no.err());
    assertTrue(no.out().contains("DNS ingest.lanternfish.example"), no.out());
    assertTrue(no.out().contains("Nothing was signed."), no.out());
    assertFalse(Files.exists(at("reply.pem")));
    Run yes = Run.with(Map.of("ATTENDED", "1"), List.of(password, "yes"), line);
    assertEquals(0, yes.code(), yes.err());
    assertTrue(Files.exists(at("reply.pem")));
  }

  private static String read(Path file) {
    try {
      return Files.readString(file).strip();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  @Test
  void aSelfSignedCertificateNeedsNoAuthorityAndIsNone() throws Exception {
    ok(
        "authority",
        "issue",
        "--self-signed",
        "--host",
        "lab.lanternfish.example",
        "--into",
        at("lab.pem"),
        "--unsealed");
    JsonNode holdings = ok("survey", at("lab.pem"), "--json").json().at("/files/0/holdings");
    assertEquals(2, holdings.size());
    String details = ok("survey", "--details", at("lab.pem")).out();
    assertTrue(details.contains("no authority"), details);
    try (Stream<Path> left = Files.list(temp)) {
      assertTrue(left.noneMatch(p -> p.getFileName().toString().startsWith(".symbolon")));
    }
  }

  @Test
  void severalFilesOfOneCommandComeBackTogether() throws Exception {
    Path first = Lanternfish.file(temp, "first.pem", "first");
    request("--host", "a.lanternfish.example");
    byte[] key = Files.readAllBytes(at("key.p12"));
    byte[] csr = Files.readAllBytes(at("r.csr"));
    ok(
        "request",
        "--host",
        "b.lanternfish.example",
        "--into",
        at("r.csr"),
        "--key-into",
        at("key.p12"),
        "--unlock",
        unlock("key"),
        "--replace");
    Run list = ok("undo", "--list", temp);
    assertTrue(list.out().contains("key.p12") && list.out().contains("r.csr"), list.out());
    ok("undo", temp);
    assertEquals(
        java.util.HexFormat.of().formatHex(key),
        java.util.HexFormat.of().formatHex(Files.readAllBytes(at("key.p12"))));
    assertEquals(
        new String(csr, java.nio.charset.StandardCharsets.UTF_8), Files.readString(at("r.csr")));
    assertEquals("first", Files.readString(first));
    assertEquals(4, Run.of("undo", temp, "--at", "1999").code());
  }
}
