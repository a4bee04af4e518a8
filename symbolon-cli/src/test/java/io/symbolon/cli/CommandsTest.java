// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.pile;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.seal.PasswordRecipe;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The commands of the story, as they would be typed. */
class CommandsTest {
  @TempDir Path folder;
  @TempDir Path pile;

  @BeforeEach
  void write() {
    pile(pile);
    file(folder, "pass", "geheim & lang \"x\" <y>\nsecond line is ignored\n");
  }

  private Object pass() {
    return "file=" + folder.resolve("pass");
  }

  private static KeyStore load(Path file, String password) throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(file)) {
      store.load(in, password.toCharArray());
    }
    return store;
  }

  private List<String> names() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.map(f -> f.getFileName().toString()).sorted().toList();
    }
  }

  @Test
  void surveyTellsTheStoryInText() {
    Run run = Run.of("survey", pile, "--host", HOST);
    assertEquals(ExitCode.DONE, run.code(), run.out());
    assertTrue(run.out().contains("fits: proven by a signature"), run.out());
    assertTrue(run.out().contains("symbolon join " + pile + "/ingest_private.txt"), run.out());
    assertEquals("", run.err());
    assertFalse(run.out().contains("\u001B"), "no colour where no terminal is");
  }

  @Test
  void surveyTellsTheSameInJson() {
    Run run = Run.of("survey", pile, "--json");
    JsonNode files = run.json().get("files");
    assertEquals("survey", run.json().get("command").asText());
    assertEquals(3, files.size());
    JsonNode key = files.get(1).get("holdings").get(0);
    JsonNode reply = files.get(2).get("holdings").get(0);
    assertEquals("private-key", key.get("kind").asText());
    assertFalse(key.has("sha256"), "nothing is told of a private key that could identify it");
    assertFalse(key.get("encrypted").asBoolean());
    assertEquals("certificate", reply.get("kind").asText());
    assertEquals(key.get("keyId"), reply.get("keyId"));
    assertEquals(INGEST.certificate().sha256(), reply.get("sha256").asText());
    assertEquals(INGEST.certificate().serialHex(), reply.get("serial").asText());
    assertEquals(INGEST.certificate().notAfter().toString(), reply.get("notAfter").asText());
    assertEquals(HOST, reply.get("hosts").get(0).asText());
    assertEquals("der", files.get(2).get("format").asText());
    assertFalse(files.get(2).get("locked").asBoolean());
    assertEquals(List.of("duplicate", "end-entity-in-bundle", "chain-order"), run.findingIds());
  }

  @Test
  void colourIsForTerminalsAndCanBeSwitchedOff() {
    Map<String, String> terminal = Map.of("TERMINAL", "yes");
    assertTrue(Run.with(terminal, List.of(), "survey", pile).out().contains("\u001B["));
    assertFalse(Run.with(terminal, List.of(), "survey", pile, "--plain").out().contains("\u001B"));
    Map<String, String> noColour = Map.of("TERMINAL", "yes", "NO_COLOR", "1");
    assertFalse(Run.with(noColour, List.of(), "survey", pile).out().contains("\u001B"));
  }

  @Test
  void joinMakesAKeystoreThatJavaOpensAndOnlyItsOwnerReads() throws Exception {
    Path keystore = folder.resolve("ingest.p12");
    Run run =
        Run.of("join", pile, "--into", keystore, "--seal", "new=" + folder.resolve("new.pass"));
    assertEquals(ExitCode.DONE, run.code(), run.err());
    String password = Files.readString(folder.resolve("new.pass")).strip();
    assertTrue(password.length() >= 20, "a strong password");
    KeyStore loaded = load(keystore, password);
    assertEquals(INGEST.key().toPrivateKey(), loaded.getKey(HOST, password.toCharArray()));
    assertEquals(2, loaded.getCertificateChain(HOST).length);
    for (String name : List.of("ingest.p12", "new.pass")) {
      assertEquals(
          "rw-------",
          PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve(name))));
    }
    assertFalse(run.out().contains(password));
  }

  @Test
  void theKeyInsideAKeystoreIsJoinedAgainUnderAnotherAlias() throws Exception {
    Path first = folder.resolve("first.p12");
    Path second = folder.resolve("second.pfx");
    assertEquals(0, Run.of("join", pile, "--into", first, "--seal", pass()).code());
    Run run =
        Run.of(
            "join",
            first,
            pile.resolve("bundle.crt"),
            "--unlock",
            pass(),
            "--into",
            second,
            "--seal",
            "env=SEAL",
            "--alias",
            "tomcat");
    assertEquals(3, run.code(), "there is no such variable");
    run =
        Run.with(
            Map.of("SEAL", "another"),
            List.of(),
            "join",
            first,
            pile.resolve("bundle.crt"),
            "--unlock",
            pass(),
            "--into",
            second,
            "--seal",
            "env=SEAL",
            "--alias",
            "tomcat",
            "--with-root",
            "--json");
    assertEquals(ExitCode.DONE, run.code(), run.err());
    assertEquals("tomcat", run.json().at("/credential/alias").asText());
    assertEquals(3, run.json().at("/credential/chain").size());
    assertEquals(3, load(second, "another").getCertificateChain("tomcat").length);
  }

  @Test
  void anExistingFileIsOnlyReplacedOnDemandAndComesBack() throws Exception {
    Path target = folder.resolve("x.p12");
    Run.of("join", pile, "--into", target, "--seal", pass());
    byte[] first = Files.readAllBytes(target);
    Run refused = Run.of("join", pile, "--into", target, "--seal", pass());
    assertEquals(ExitCode.NOT_WRITTEN, refused.code());
    assertEquals(3, refused.err().lines().count(), refused.err());
    assertTrue(refused.err().contains("--replace"));
    assertEquals(0, Run.of("join", pile, "--into", target, "--seal", pass(), "--replace").code());
    assertFalse(java.util.Arrays.equals(first, Files.readAllBytes(target)));
    assertTrue(Run.of("undo", target, "--list").out().contains("x.p12"));
    assertEquals(0, Run.of("undo", target).code());
    assertTrue(java.util.Arrays.equals(first, Files.readAllBytes(target)));
    assertEquals(ExitCode.NOT_WRITTEN, Run.of("undo", folder.resolve("pass")).code());
  }

  @Test
  void aTruststoreIsMadeAndAddedTo() throws Exception {
    Path trust = folder.resolve("trust.p12");
    file(folder, "root.pem", pem(root()));
    Run made =
        Run.of(
            "truststore", folder.resolve("root.pem"), "--into", trust, "--seal", pass(), "--json");
    assertEquals(ExitCode.DONE, made.code(), made.err());
    assertEquals(1, made.json().at("/truststore/entries").size());
    Run added = Run.of("truststore", pile, "--add", "--into", trust, "--unlock", pass(), "--json");
    assertEquals(ExitCode.DONE, added.code(), added.err());
    assertEquals(1, added.json().at("/truststore/added").asInt());
    assertTrue(added.findingIds().contains("key-left-out"));
    KeyStore loaded = load(trust, "geheim & lang \"x\" <y>");
    assertEquals(
        List.of("lanternfish-issuing-a", "lanternfish-root"),
        Collections.list(loaded.aliases()).stream().sorted().toList());
    assertTrue(loaded.isCertificateEntry("lanternfish-root"));

    byte[] before = Files.readAllBytes(trust);
    Run nothing = Run.of("truststore", pile, "--add", "--into", trust, "--unlock", pass());
    assertEquals(ExitCode.DONE, nothing.code());
    assertTrue(nothing.out().contains("Nothing to add"));
    assertTrue(java.util.Arrays.equals(before, Files.readAllBytes(trust)), "left as it was");
  }

  @Test
  void aPasswordIsAskedForTwiceAndNeverShown() {
    Path target = folder.resolve("x.p12");
    Run run =
        Run.with(
            Map.of(),
            List.of("asked-for-it", "asked-for-it"),
            "join",
            pile,
            "--into",
            target,
            "--seal",
            "ask");
    assertEquals(ExitCode.DONE, run.code(), run.err());
    assertFalse((run.out() + run.err()).contains("asked-for-it"));
    Run differing =
        Run.with(
            Map.of(),
            List.of("one", "two"),
            "join",
            pile,
            "--into",
            folder.resolve("y.p12"),
            "--seal",
            "ask");
    assertEquals(ExitCode.USAGE, differing.code());
    Run survey = Run.with(Map.of(), List.of("asked-for-it"), "survey", target, "--unlock", "ask");
    assertEquals(ExitCode.DONE, survey.code(), survey.out() + survey.err());
  }

  @Test
  void aPasswordIsMadeByTheRulesOfItsPlaceAndAnOwnOneIsLookedAt() throws Exception {
    Path pass = folder.resolve("p.pass");
    Run made =
        Run.of(
            "join",
            pile,
            "--into",
            folder.resolve("m.p12"),
            "--seal",
            "new=" + pass,
            "--new-length",
            "12",
            "--new-without",
            "ABCDEFGHJKLMNPQRSTUVWXYZ23456789",
            "--json");
    assertEquals(ExitCode.DONE, made.code(), made.err());
    assertTrue(Files.readString(pass).strip().matches("[a-z]{12}"), "letters alone");
    assertEquals(List.of("weak-password"), made.findingIds());
    for (List<String> wrong :
        List.of(
            List.of("new=" + folder.resolve("q.pass"), "--new-length", "7"),
            List.of("new=" + folder.resolve("q.pass"), "--new-length", "many"),
            List.of("new=" + folder.resolve("q.pass"), "--new-without", PasswordRecipe.ALPHABET),
            List.of("empty", "--new-length", "20"))) {
      List<Object> line =
          new ArrayList<>(List.of("join", pile, "--into", folder.resolve("n.p12"), "--seal"));
      line.addAll(wrong);
      assertEquals(ExitCode.USAGE, Run.of(line.toArray()).code(), wrong.toString());
    }
    assertFalse(Files.exists(folder.resolve("q.pass")));
    String own = "a&b<c> d\\$e";
    Run told =
        Run.with(
            Map.of("PW", own),
            List.of(),
            "join",
            pile,
            "--into",
            folder.resolve("o.p12"),
            "--seal",
            "env=PW",
            "--json");
    assertEquals(List.of("password-taken-apart"), told.findingIds());
    assertTrue(told.out().contains("in XML, a properties file, an ini file, a shell."), told.out());
    assertFalse(told.out().contains("b<c"), "the password is never shown");
  }

  @Test
  void aKeySealedWithNearlyNothingIsAWarning() {
    Run empty =
        Run.of("join", pile, "--into", folder.resolve("x.p12"), "--seal", "empty", "--json");
    assertEquals(ExitCode.DONE, empty.code(), empty.err());
    assertEquals(List.of("weak-password"), empty.findingIds());
    Run trust =
        Run.of("truststore", pile, "--into", folder.resolve("t.p12"), "--seal", "empty", "--json");
    assertFalse(trust.findingIds().contains("weak-password"), "there is no secret in it");
    Run twice = Run.of("survey", folder.resolve("x.p12"), folder.resolve("x.p12"), "--json");
    assertEquals(1, twice.json().get("files").size(), "a file that is named twice counts once");
    assertTrue(twice.out().contains("\"encrypted\" : true"), twice.out());
  }

  @Test
  void verboseShowsWhereAFailureCameFromAndNothingElseDoes() {
    Path missing = folder.resolve("missing");
    assertFalse(Run.of("survey", missing).err().contains("\tat "));
    assertTrue(Run.of("survey", missing, "--verbose").err().contains("\tat io.symbolon."));
  }

  @Test
  void aFailedJoinLeavesNothingBehind() throws IOException {
    file(folder, "key", keyPem(CATALOGUE));
    Run run =
        Run.of(
            "join",
            folder.resolve("key"),
            pile.resolve("bundle.crt"),
            "--into",
            folder.resolve("x.p12"),
            "--seal",
            "new=" + folder.resolve("x.pass"));
    assertEquals(ExitCode.NOT_WRITTEN, run.code());
    assertEquals(List.of("key", "pass"), names());
  }

  @Test
  void severalKeysAreListed() {
    file(pile, "catalogue", keyPem(CATALOGUE));
    file(pile, "catalogue.cer", pem(CATALOGUE.certificate()));
    Run run = Run.of("join", pile, "--into", folder.resolve("x.p12"), "--seal", pass());
    assertEquals(ExitCode.NOT_WRITTEN, run.code());
    assertTrue(run.err().contains("'catalogue.lanternfish.example'"), run.err());
    assertTrue(run.err().contains("--alias"), run.err());
  }
}
