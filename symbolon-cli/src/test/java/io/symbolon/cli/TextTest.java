// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.pile;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.cli.output.Shell;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.key.KeyKind;
import io.symbolon.pem.PemWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What a person reads. */
class TextTest {
  @TempDir Path folder;

  private static void assertLines(String out, String... wanted) {
    for (String line : wanted) {
      assertTrue(
          out.lines().anyMatch(l -> l.strip().startsWith(line)), () -> line + "\nin\n" + out);
    }
  }

  @Test
  void aSurveyShowsTheChainAsATreeEndEntityFirst() {
    Run run = Run.of("survey", pile(folder));
    List<String> lines = run.out().lines().toList();
    int key = index(lines, "  private key  ");
    assertTrue(lines.get(key + 1).startsWith("   └ ingest.lanternfish.example (end-entity)"));
    assertTrue(lines.get(key + 2).startsWith("     └ Lanternfish Issuing A (intermediate)"));
    assertTrue(lines.get(key + 3).startsWith("       └ Lanternfish Root (root)"));
    assertTrue(lines.stream().allMatch(l -> l.equals(l.stripTrailing())), "no trailing spaces");
  }

  @ParameterizedTest
  @ValueSource(ints = {60, 80, 132, 200})
  void everyLineFitsTheTerminalButACommandThatIsToBePasted(int width) {
    Path deep = folder.resolve("a-folder-of-a-long-name/and-another-one/below-it");
    assertTrue(deep.toFile().mkdirs());
    Run run =
        Run.with(
            Map.of("TERMINAL", "yes", "COLUMNS", Integer.toString(width)),
            List.of(),
            "survey",
            pile(deep));
    List<String> lines = run.out().replaceAll("\u001B\\[[0-9;]*m", "").lines().toList();
    for (String line : lines) {
      assertTrue(
          line.length() <= width
              || line.strip().startsWith("symbolon ")
              || line.strip().indexOf(' ') < 0, // a path alone is broken nowhere
          line.length() + ": " + line);
      assertEquals(line.stripTrailing(), line);
    }
    assertTrue(lines.stream().anyMatch(line -> line.strip().startsWith("symbolon join ")));
  }

  @Test
  void atATerminalOfAsciiAloneANameIsToldOctetByOctet() {
    Shell shell = Shell.of(Map.of("SYMBOLON_TERMINAL", "ascii"), "Linux");
    assertEquals("$'f\\303\\274r it\\047s.pem'", shell.quote("für it's.pem"));
    assertEquals("plain.pem", shell.quote("plain.pem"));
  }

  private static int index(List<String> lines, String start) {
    for (int i = 0; i < lines.size(); i++) {
      if (lines.get(i).startsWith(start)) {
        return i;
      }
    }
    throw new AssertionError(start + " in " + lines);
  }

  @Test
  void everyKindOfHoldingHasItsLine() {
    file(
        folder,
        "public.pem",
        PemWriter.write("PUBLIC KEY", INGEST.certificate().publicKey().encoding()));
    byte[] name = root().subject().encoding();
    byte[] algorithm = Der.sequence(Der.oid(Oids.ECDSA_SHA256));
    byte[] list =
        Der.sequence(
            Der.sequence(
                Der.integer(1),
                algorithm,
                name,
                Der.time(io.symbolon.fixture.Lanternfish.NOW),
                Der.time(io.symbolon.fixture.Lanternfish.NOW.plusSeconds(86_400))),
            algorithm,
            Der.bits(new byte[70]));
    file(folder, "list.crl", list);
    byte[] request =
        Der.sequence(
            Der.sequence(
                Der.integer(0),
                CATALOGUE.certificate().subject().encoding(),
                CATALOGUE.certificate().publicKey().encoding(),
                Der.context(0)),
            algorithm,
            Der.bits(new byte[70]));
    file(folder, "request.csr", PemWriter.write("CERTIFICATE REQUEST", request));
    file(folder, "key.pem", keyPem(CATALOGUE));
    Run run = Run.of("survey", folder);
    assertTrue(run.out().contains("revocation list of Lanternfish Root, of "), run.out());
    assertTrue(run.out().contains("public key, RSA 2048"), run.out());
    assertTrue(
        run.out().contains("request for catalogue.lanternfish.example, EC P-256"), run.out());
    Run json = Run.of("survey", folder, "--json");
    assertTrue(json.findingIds().contains("request-signature-broken"));
    assertTrue(json.out().contains("its request is in " + folder + "/request.csr"), json.out());
    assertTrue(json.out().contains("\"kind\" : \"revocation-list\""), json.out());
    assertTrue(json.out().contains("\"kind\" : \"request\""), json.out());
    assertTrue(json.out().contains("\"kind\" : \"public-key\""), json.out());
  }

  @Test
  void pkcs7BundlesAreRead() {
    byte[] bundle =
        Der.sequence(
            Der.oid(Oids.SIGNED_DATA),
            Der.context(
                0,
                Der.sequence(
                    Der.integer(1),
                    Der.setOf(List.of()),
                    Der.sequence(Der.oid(Oids.DATA)),
                    Der.context(0, INGEST.certificate().encoding(), issuing().encoding()),
                    Der.setOf(List.of()))));
    file(folder, "chain.p7b", bundle);
    file(folder, "chain.pem", PemWriter.write("PKCS7", bundle));
    file(folder, "key", keyPem(INGEST));
    file(folder, "root", pem(root()));
    Run run = Run.of("survey", folder, "--json");
    assertEquals("pkcs7", run.json().at("/files/0/format").asText());
    assertEquals(2, run.json().at("/files/0/holdings").size());
    assertEquals("pem", run.json().at("/files/1/format").asText());
    Run joined = Run.of("join", folder, "--into", folder.resolve("x.p12"), "--seal", "empty");
    assertEquals(ExitCode.DONE, joined.code(), joined.err());
  }

  @Test
  void longOutputIsCutForPeopleAndWholeForPrograms() {
    try {
      Files.createDirectory(folder.resolve("many"));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    for (int i = 0; i < 100; i++) {
      file(folder.resolve("many"), String.format("f%03d.pem", i), pem(issuing()));
    }
    for (int i = 0; i < 15; i++) {
      file(
          folder.resolve("many"),
          "k" + i,
          keyPem(io.symbolon.fixture.Lanternfish.server("s" + i + ".example", KeyKind.ED25519)));
    }
    Run text = Run.of("survey", folder);
    assertTrue(text.out().contains("more files; --json lists all"), text.out());
    assertTrue(text.out().contains("of key-without-certificate; --json lists all"), text.out());
    assertTrue(text.out().lines().count() < 200);
    assertEquals(115, Run.of("survey", folder, "--json").json().get("files").size());
  }

  @Test
  void textIsWrappedToTheWidthOfTheTerminal() {
    Run run = Run.with(Map.of("COLUMNS", "70"), List.of(), "survey", pile(folder));
    boolean after = false;
    for (String line : run.out().lines().toList()) {
      after |= line.startsWith("Findings");
      boolean command =
          line.strip().startsWith("symbolon "); // a line that is wrapped can't be pasted
      if (line.startsWith("           ") && line.strip().contains(" ") && !command) {
        assertTrue(line.length() <= 70, line);
      }
    }
    assertTrue(after);
  }

  @Test
  void aJoinShowsWhatWasTakenAndWhatWasLeftOut() {
    pile(folder);
    Run run =
        Run.of(
            "join",
            folder,
            "--into",
            folder.resolve("x.p12"),
            "--seal",
            "new=" + folder.resolve("x.pass"));
    assertLines(
        run.out(),
        "Joined ingest.lanternfish.example",
        "key      RSA 2048  fits: proven by a signature",
        "chain    ingest.lanternfish.example (end-entity), until ",
        "Lanternfish Issuing A (intermediate), until ",
        "left out: Lanternfish Root (root)",
        "into     " + folder + "/x.p12",
        "sealed   with the new password in " + folder + "/x.pass");
    Run replaced =
        Run.of("join", folder, "--into", folder.resolve("x.p12"), "--seal", "empty", "--replace");
    assertEquals(ExitCode.DONE, replaced.code(), replaced.err());
    assertLines(replaced.out(), "before   the old file is kept; symbolon undo ", "warning  locked");
  }

  @Test
  void aTruststoreShowsAliasesAndFingerprints() {
    pile(folder);
    Run run =
        Run.of(
            "truststore",
            folder.resolve("bundle.crt"),
            "--into",
            folder.resolve("t.p12"),
            "--seal",
            "empty");
    assertLines(
        run.out(),
        "Made a truststore  2 certificates",
        "lanternfish-root       Lanternfish Root (root), until ",
        "SHA-256 " + root().sha256(),
        "into     " + folder + "/t.p12  PKCS#12, no private key",
        "note     end-entity-left-out");
    assertFalse(run.out().contains("ingest.lanternfish.example  "), run.out());
  }
}
