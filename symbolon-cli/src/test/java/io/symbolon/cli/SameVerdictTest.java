// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.pem;
import static java.nio.charset.StandardCharsets.UTF_8;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.fixture.ForgedChain;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The same files are judged in the same words by each command that a user gives them to. */
class SameVerdictTest {
  /** What only shows when it is known which host is meant, and who trusts whom. */
  private static final Set<String> OF_A_PAIR =
      Set.of(
          "host-not-covered",
          "trust-empty",
          "not-for-servers",
          "key-usage-forbids",
          "issuer-not-sent",
          "trust-without-root");

  @TempDir Path temp;

  private static Set<String> problems(Run run) {
    Set<String> all = new TreeSet<>();
    for (JsonNode finding : run.json().get("findings")) {
      if (finding.get("level").asText().equals("problem")) {
        all.add(finding.get("id").asText());
      }
    }
    return all;
  }

  /** Who refuses says so in a sentence, and writes nothing. */
  private static Set<String> problemsOrRefusal(Run run, Set<String> surveyed) {
    if (run.code() == 4) {
      assertTrue(run.err().contains("incomplete") || run.err().contains("is wrong"), run.err());
      return new TreeSet<>(surveyed);
    }
    return problems(run);
  }

  private record Files3(Path key, Path chain, Path root) {}

  private Files3 files(ForgedChain.Made made, Path folder) throws IOException {
    Path key = file(folder, "key.pem", made.keyPem());
    Files.setPosixFilePermissions(key, PosixFilePermissions.fromString("rw-------"));
    return new Files3(
        key,
        file(folder, "chain.pem", pem(made.shown().toArray(Certificate[]::new))),
        file(folder, "root.pem", pem(made.trust().toArray(Certificate[]::new))));
  }

  private static Path nginx(Path folder) throws IOException {
    Path home = Files.createDirectory(folder.resolve("nginx"));
    String settings =
        "events {}\nhttp {\n server {\n  listen 8443 ssl;\n  server_name "
            + HOST
            + ";\n  ssl_certificate web.pem;\n  ssl_certificate_key web.key;\n }\n}\n";
    file(home, "nginx.conf", settings.getBytes(UTF_8));
    return home;
  }

  @Test
  void eachDefectOfAChainIsTheSameToSurveyRehearseAndConfigure() throws Exception {
    List<String> different = new ArrayList<>();
    for (Map.Entry<String, ForgedChain.Defect> one :
        ForgedChain.defects(HOST, NOW, YEAR).entrySet()) {
      ForgedChain.Made made = ForgedChain.make(List.of(one.getValue()), HOST, NOW, YEAR);
      Path folder = Files.createDirectory(temp.resolve(one.getKey().replace(' ', '-')));
      Files3 files = files(made, folder);
      Run survey = Run.of("survey", files.chain(), files.root(), files.key(), "--json");
      Set<String> surveyed = problems(survey);
      Run rehearse =
          Run.of(
              "rehearse",
              "--server",
              files.key(),
              files.chain(),
              "--client-trust",
              files.root(),
              "--host",
              HOST,
              "--json");
      Run configure =
          Run.of(
              "configure",
              "nginx",
              "--home",
              nginx(folder),
              "--credential",
              files.key(),
              files.chain(),
              files.root(),
              "--host",
              HOST,
              "--json");
      for (Run other : List.of(rehearse, configure)) {
        Set<String> told = problemsOrRefusal(other, surveyed);
        told.removeAll(OF_A_PAIR);
        Set<String> expected = new TreeSet<>(surveyed);
        expected.removeAll(OF_A_PAIR);
        if (told.contains("issuer-is-no-authority")) {
          expected.remove("no-alternative-names"); // by itself it looks like a server's
          told.remove("no-alternative-names");
        }
        if (!told.equals(expected)) {
          different.add(one.getKey() + ": " + expected + " but " + told);
        }
      }
      if (one.getKey().startsWith("good")) {
        assertEquals(0, survey.code() + rehearse.code() + configure.code(), one.getKey());
      } else {
        assertTrue(rehearse.code() != 0 || surveyed.isEmpty(), one.getKey());
      }
    }
    assertEquals(List.of(), different);
  }

  private Run made(Object... line) {
    Run run = Run.of(line).expect(0);
    assertEquals(Set.of(), problems(run), run.out());
    return run;
  }

  @Test
  void whatACommandHasMadeIsNoProblemThatItDidNotTell() throws Exception {
    Path secret = temp.resolve("ca.pass");
    Path out = Files.createDirectory(temp.resolve("made"));
    Path pass = temp.resolve("made.pass");
    String unlock = "file=" + secret;
    String opens = "file=" + pass;
    for (String name : List.of("root", "issuing")) {
      List<Object> line = new ArrayList<>(List.of("authority", "found", temp.resolve(name)));
      line.addAll(List.of("--subject", "CN=Made " + name + ",O=Lanternfish Observatory", "--json"));
      if (name.equals("issuing")) {
        line.addAll(List.of("--under", temp.resolve("root"), "--unlock", unlock));
      }
      line.addAll(List.of("--seal", (name.equals("root") ? "new=" : "file=") + secret));
      made(line.toArray());
    }
    for (String into : List.of("web.p12", "web.pem", "web.jks")) {
      List<Object> line = new ArrayList<>(List.of("authority", "issue", "--host", HOST));
      line.addAll(List.of("--by", temp.resolve("issuing"), "--unlock", unlock, "--json"));
      line.addAll(List.of("--into", out.resolve(into)));
      line.addAll(
          into.endsWith("pem")
              ? List.of("--unsealed")
              : List.of("--seal", (into.endsWith("p12") ? "new=" : "file=") + pass));
      made(line.toArray());
    }
    made(
        "request",
        "--host",
        HOST,
        "--key-into",
        out.resolve("web.key"),
        "--into",
        out.resolve("web.csr"),
        "--unsealed",
        "--json");
    made(
        "authority",
        "sign",
        out.resolve("web.csr"),
        "--by",
        temp.resolve("issuing"),
        "--unlock",
        unlock,
        "--into",
        out.resolve("signed.pem"),
        "--json");
    made(
        "join",
        out.resolve("web.key"),
        out.resolve("signed.pem"),
        "--into",
        out.resolve("joined.p12"),
        "--seal",
        opens,
        "--incomplete-chain",
        "--json");
    made(
        "convert",
        out.resolve("web.p12"),
        "--into",
        out.resolve("chain.p7b"),
        "--unlock",
        opens,
        "--json");
    made(
        "truststore",
        temp.resolve("root").resolve("authority.pem"),
        "--into",
        out.resolve("trust.p12"),
        "--seal",
        opens,
        "--json");
    Run survey = Run.of("survey", out, "--unlock", opens, "--json");
    assertEquals(Set.of(), problems(survey), survey.out());
    assertEquals(0, survey.code());
  }
}
