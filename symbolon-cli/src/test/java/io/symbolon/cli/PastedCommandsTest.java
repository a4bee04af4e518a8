// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.symbolon.chain.Credential;
import io.symbolon.entry.StoreEntry;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.store.Pkcs12Writer;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * What Symbolon tells people to do is done, as it is printed: in a shell, in the folder in which
 * they are, in folders and with password files whose names a careless program would mangle.
 */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class PastedCommandsTest {
  private static final String PASSWORD = "nautilus-ballast-17";

  @TempDir Path temp;
  private Path keys;
  private String pass;
  private CommandWorker worker;

  /** What a shell said. */
  private record Said(int code, String out, String err) {
    JsonNode json() {
      try {
        JsonNode document = new ObjectMapper().readTree(out);
        Schemas.check(document);
        ProposedCommands.check(document);
        return document;
      } catch (IOException e) {
        throw new AssertionError(out + err, e);
      }
    }

    /** Every command that is proposed, of findings and of next steps. */
    List<String> commands() {
      List<String> commands = new ArrayList<>();
      for (JsonNode finding : json().get("findings")) {
        finding.get("commands").forEach(command -> commands.add(command.asText()));
      }
      for (JsonNode step : json().path("next")) {
        if (!step.path("command").asText().isEmpty()) {
          commands.add(step.get("command").asText());
        }
      }
      return commands;
    }
  }

  @BeforeEach
  void files() throws Exception {
    keys = Files.createDirectory(temp.resolve("keys (old)"));
    file(temp, "pass (1).txt", PASSWORD + "\n");
    pass = "'file=pass (1).txt'";
    worker = new CommandWorker(temp, Files.createDirectory(temp.resolve(".bin")));
  }

  @AfterEach
  void end() throws Exception {
    worker.close();
  }

  /** Types a line into a shell. */
  private Said type(String line) throws Exception {
    Path err = temp.resolve(".err");
    ProcessBuilder builder =
        new ProcessBuilder("/bin/bash", "-c", line)
            .directory(temp.toFile())
            .redirectError(err.toFile());
    builder.environment().merge("PATH", temp.resolve(".bin").toString(), (a, b) -> b + ":" + a);
    Process process = builder.start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    return new Said(process.waitFor(), out, Files.readString(err));
  }

  /** What is typed is done, or at most has something to say about it. */
  private Said done(String line) throws Exception {
    Said said = type(line);
    assertTrue(said.code() <= 1, line + "\n" + said.out() + said.err());
    return said;
  }

  /** Pastes each proposed command and returns how many there were. */
  private int paste(Said said) throws Exception {
    List<String> commands = said.commands();
    for (String command : commands) {
      done(command);
    }
    return commands.size();
  }

  private String store(String name, boolean whole) throws Exception {
    file(keys, name + ".key", keyPem(CATALOGUE));
    file(keys, name + ".crt", pem(CATALOGUE.certificate(), issuing(), root()));
    done(
        "symbolon join 'keys (old)/%1$s.key' 'keys (old)/%1$s.crt' --into 'keys (old)/%1$s.p12' --seal %2$s"
            .formatted(name, pass));
    if (!whole) {
      Files.delete(keys.resolve(name + ".key"));
      Files.delete(keys.resolve(name + ".crt"));
    }
    return "'keys (old)/" + name + ".p12'";
  }

  @Test
  void nextStepsOfASurveyMakeTheStoresWithTheSamePasswords() throws Exception {
    store("catalogue", false);
    file(keys, "ingest key.pem", keyPem(INGEST));
    file(keys, "reply.cer", INGEST.certificate().encoding());
    file(keys, "bundle.crt", pem(root(), INGEST.certificate(), issuing()));
    Said survey = done("symbolon survey 'keys (old)' --unlock " + pass + " --json");
    assertTrue(paste(survey) >= 2, survey.out());
    assertTrue(Files.exists(temp.resolve("ingest.p12")), survey.out());
    assertTrue(Files.exists(temp.resolve("truststore.p12")), survey.out());
    // A second time the names are taken, and others are proposed.
    Said again = done("symbolon survey 'keys (old)' --unlock " + pass + " --json");
    paste(again);
    assertTrue(Files.exists(temp.resolve("ingest-2.p12")), again.out());
    assertTrue(done("symbolon survey ingest-2.p12 --unlock file=ingest-2.pass").code() <= 1);
  }

  @Test
  void aLockedStoreIsAskedForAndAnOpenKeyIsClosed() throws Exception {
    String store = store("catalogue", true);
    Files.setPosixFilePermissions(
        keys.resolve("catalogue.key"), PosixFilePermissions.fromString("rw-r--r--"));
    Said survey = type("symbolon survey 'keys (old)' --json");
    assertEquals(3, survey.code(), survey.err());
    String unlocking =
        survey.commands().stream().filter(one -> one.endsWith("--unlock ask")).findFirst().get();
    Said unlocked = done(unlocking.replace("--unlock ask", "--unlock " + pass));
    assertTrue(unlocked.out().contains("private key"), unlocked.out());
    assertTrue(unlocking.contains(store), unlocking);
    List<String> closing =
        survey.commands().stream().filter(one -> one.startsWith("chmod")).toList();
    assertEquals(1, closing.size(), survey.out());
    done(closing.get(0));
    assertFalse(
        type("symbolon survey 'keys (old)' --json").out().contains("key-readable-by-others"));
  }

  @Test
  void aRequestTellsTheCommandThatTakesItsReply() throws Exception {
    done("symbolon authority found root --subject 'CN=Lanternfish Root' --seal new=root.pass");
    Said request =
        done(
            "symbolon request --host catalogue.lanternfish.example --into 'keys (old)/c.csr'"
                + " --key-into 'keys (old)/waiting store.p12' --seal "
                + pass
                + " --json");
    done(
        "symbolon authority sign 'keys (old)/c.csr' --by root --unlock file=root.pass --into"
            + " 'the reply.pem'");
    String next = request.json().get("next").asText();
    assertTrue(next.contains(" REPLY "), next);
    Said survey = done("symbolon survey 'keys (old)' 'the reply.pem' --unlock " + pass + " --json");
    done(next.replace("REPLY", "'the reply.pem'"));
    Said after = done("symbolon survey 'keys (old)/waiting store.p12' --unlock " + pass);
    assertTrue(after.out().contains("fits: proven by a signature"), after.out());
    assertTrue(
        survey.commands().stream().anyMatch(one -> one.startsWith("symbolon join ")), survey.out());
  }

  @Test
  void anAuthorityWithoutItsListTellsHowToMakeOne() throws Exception {
    done("symbolon authority found 'the root' --subject 'CN=Root' --seal new=root.pass");
    Files.delete(temp.resolve("the root/revocations.pem"));
    Said list = type("symbolon authority list 'the root' --json");
    List<String> commands = list.commands();
    assertEquals(1, commands.size(), list.out());
    done(commands.get(0) + " --unlock file=root.pass"); // what is asked for otherwise
    assertEquals(List.of(), done("symbolon authority list 'the root' --json").commands());
  }

  @Test
  void aTrustThatJavaDoesNotTakeIsMadeAnew() throws Exception {
    String server = store("catalogue", true);
    file(
        keys,
        "trust.p12",
        Pkcs12Writer.write(
            List.of(new StoreEntry.Plain(Optional.empty(), root(), Optional.empty())),
            Secret.of(PASSWORD.toCharArray(), "test"),
            RANDOM));
    Said rehearsal =
        type(
            "symbolon rehearse --server "
                + server
                + " --client-trust 'keys (old)/trust.p12' --host catalogue.lanternfish.example"
                + " --json --unlock "
                + pass);
    assertEquals(1, rehearsal.code(), rehearsal.out());
    assertTrue(rehearsal.out().contains("not-marked-as-trusted"), rehearsal.out());
    assertTrue(paste(rehearsal) >= 1, rehearsal.out());
    Said after =
        type(
            "symbolon rehearse --server "
                + server
                + " --client-trust truststore.p12 --host catalogue.lanternfish.example --unlock "
                + pass
                + " --unlock file=truststore.pass");
    assertEquals(0, after.code(), after.out() + after.err());
  }

  @Test
  void refusalsTellWhatDoesAway() throws Exception {
    String store = store("catalogue", true);
    Path open = Files.createDirectory(temp.resolve("open to all"));
    Files.setPosixFilePermissions(open, PosixFilePermissions.fromString("rwxrwxrwx"));
    String join =
        "symbolon join 'keys (old)/catalogue.key' 'keys (old)/catalogue.crt' --seal " + pass;
    Said refused = type(join + " --into 'open to all/k.p12' --json");
    assertEquals(4, refused.code(), refused.out());
    assertEquals(1, refused.commands().size(), refused.out());
    assertTrue(refused.commands().get(0).startsWith("chmod go-w "), refused.out());
    paste(refused);
    done(join + " --into 'open to all/k.p12'");

    Said exists = type(join + " --into " + store + " --json");
    assertEquals(4, exists.code());
    assertTrue(exists.json().at("/findings/0/remedy").asText().endsWith(": --replace."));
    done(join + " --into " + store + " --replace");
  }

  @Test
  void anAliasThatLooksLikeAnOptionIsStillAnAlias() throws Exception {
    byte[] store =
        Pkcs12Writer.write(
            List.of(
                new StoreEntry.KeyEntry("--replace", INGEST.key(), List.of(INGEST.certificate())),
                new StoreEntry.KeyEntry(
                    "other", CATALOGUE.key(), List.of(CATALOGUE.certificate()))),
            Secret.of(PASSWORD.toCharArray(), "test"),
            RANDOM);
    file(keys, "two.p12", store);
    file(keys, "chain.pem", pem(issuing(), root()));
    Said survey = done("symbolon survey 'keys (old)' --unlock " + pass + " --json");
    assertTrue(survey.out().contains("--alias=--replace"), survey.out());
    paste(survey);
    assertTrue(Files.exists(temp.resolve("ingest.p12")), survey.out());
  }

  /** Each broken setup, and how many commands it tells at least. */
  @ParameterizedTest
  @CsvSource({
    "without intermediate,1",
    "another root trusted,1",
    "an old certificate,0",
    "another host,0",
    "another key,0"
  })
  void whatIsProposedForABrokenSetupCanBeDone(String setup, int least) throws Exception {
    file(keys, "server.key", keyPem(INGEST));
    file(keys, "server.crt", pem(INGEST.certificate(), issuing()));
    file(keys, "trust.pem", pem(root()));
    String host = Lanternfish.HOST;
    switch (setup) {
      case "without intermediate" -> file(keys, "server.crt", pem(INGEST.certificate()));
      case "another root trusted" -> file(keys, "trust.pem", pem(CATALOGUE.certificate()));
      case "an old certificate" -> {
        Credential old =
            Lanternfish.ISSUING.issue(
                Lanternfish.name(host),
                KeyKind.EC_P256,
                List.of(HostName.parse(host)),
                Use.SERVER,
                Lanternfish.NOW.minusSeconds(300),
                Duration.ofMinutes(1));
        file(keys, "server.key", keyPem(old));
        file(keys, "server.crt", pem(old.certificate(), issuing()));
      }
      case "another host" -> host = "tide.lanternfish.example";
      default -> file(keys, "server.key", keyPem(CATALOGUE));
    }
    Said rehearsal =
        type(
            "symbolon rehearse --server 'keys (old)/server.key' 'keys (old)/server.crt'"
                + " --client-trust 'keys (old)/trust.pem' --json --host "
                + host);
    assertTrue(rehearsal.code() >= 1, rehearsal.out());
    Said survey = type("symbolon survey 'keys (old)' --json --host " + host);
    int pasted = 0;
    for (Said said : List.of(rehearsal, survey)) {
      for (String command : said.commands()) {
        int code = type(command.replace("--unlock ask", "--unlock " + pass)).code();
        assertTrue(code <= 1, code + ": " + command);
        pasted++;
      }
    }
    assertTrue(pasted >= least, rehearsal.out() + survey.out());
  }
}
