// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.pile;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.cli.session.ExitCode;
import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.entry.StoreEntry;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.pem.PemWriter;
import io.symbolon.store.Pkcs12Writer;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.DistinguishedName;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is wrong with an input or a command line is said in three lines, with its exit code. */
class BadInputTest {
  @TempDir Path folder;

  private static void assertFailure(int code, Run run) {
    assertEquals(code, run.code(), run.err() + run.out());
    List<String> lines = run.err().lines().toList();
    assertEquals(3, lines.size(), run.err());
    assertTrue(lines.get(0).startsWith("symbolon"), lines.get(0));
    assertTrue(lines.get(1).startsWith("Seen: "), lines.get(1));
    assertTrue(lines.get(2).startsWith("To do: "), lines.get(2));
    assertFalse(run.err().contains("Exception"), run.err());
  }

  @ParameterizedTest
  @ValueSource(strings = {"survey", "join", "truststore"})
  void filesThatHoldNothing(String command) throws IOException {
    byte[] der = INGEST.certificate().encoding();
    String pem = new String(Lanternfish.pem(root()), java.nio.charset.StandardCharsets.US_ASCII);
    Path zeros = folder.resolve("zeros");
    try (RandomAccessFile sparse = new RandomAccessFile(zeros.toFile(), "rw")) {
      sparse.setLength(1L << 30);
    }
    List<Path> files =
        List.of(
            file(folder, "empty.pem", ""),
            file(
                folder, "picture.jpg", new byte[] {(byte) 0xFF, (byte) 0xD8, (byte) 0xFF, 0, 1, 2}),
            file(folder, "truncated.der", Arrays.copyOf(der, 300)),
            file(folder, "cut.pem", pem.substring(0, 200)),
            zeros,
            folder.resolve("missing.pem"));
    for (Path file : files) {
      Run run =
          command.equals("survey")
              ? Run.of("survey", file)
              : Run.of(
                  command,
                  file,
                  "--into",
                  folder.resolve("x.p12"),
                  "--seal",
                  "new=" + folder.resolve("x.pass"));
      assertFailure(ExitCode.INPUT, run);
      assertTrue(run.err().contains(file.toString()), run.err());
    }
    try (Stream<Path> left = Files.list(folder)) {
      assertEquals(5, left.count(), "nothing was written");
    }
  }

  @Test
  void inJsonAFailureIsADocumentToo() {
    Run survey = Run.of("survey", folder.resolve("missing.pem"), "--json");
    assertEquals(ExitCode.INPUT, survey.code());
    assertEquals(List.of("unreadable"), survey.findingIds());
    Run join =
        Run.of(
            "join",
            folder.resolve("missing.pem"),
            "--into",
            folder.resolve("x.p12"),
            "--seal",
            "empty",
            "--json");
    assertEquals(ExitCode.INPUT, join.code());
    assertEquals(List.of("unreadable"), join.findingIds());
  }

  @Test
  void aStoreWithAWrongPasswordAndOneWithTwoBillionRounds() {
    Path store =
        file(
            folder,
            "trust.p12",
            Pkcs12Writer.write(
                List.of(new StoreEntry.Trusted("root", root())),
                secret("geheim"),
                Lanternfish.RANDOM));
    file(folder, "wrong", "wrong");
    Run locked = Run.of("survey", store);
    assertFailure(ExitCode.INPUT, locked);
    assertTrue(locked.err().contains("--unlock"), locked.err());
    Run wrong = Run.of("survey", store, "--unlock", "file=" + folder.resolve("wrong"));
    assertFailure(ExitCode.INPUT, wrong);
    assertFailure(
        ExitCode.INPUT,
        Run.of("truststore", store, "--into", folder.resolve("x.p12"), "--seal", "empty"));

    byte[] mac =
        Der.sequence(
            Der.sequence(Der.sequence(Der.oid(Oids.SHA256), Der.nul()), Der.octets(new byte[32])),
            Der.octets(new byte[8]),
            Der.integer(2_000_000_000));
    Path endless =
        file(
            folder,
            "endless.p12",
            Der.sequence(
                Der.integer(3),
                Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.sequence()))),
                mac));
    Run refused = Run.of("survey", endless);
    assertFailure(ExitCode.INPUT, refused);
    assertTrue(refused.err().contains("2000000000"), refused.err());
  }

  @Test
  void aSubjectFullOfControlCharactersIsMadeVisible() {
    var pair = KeyKind.EC_P256.generate(Lanternfish.RANDOM);
    var evil =
        CertificateBuilder.of(
                DistinguishedName.parse("CN=\\1B[2J\\1B]0\\;x\\07\\E2\\80\\AEevil\\0A"),
                SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(Lanternfish.NOW, Lanternfish.NOW.plus(Lanternfish.YEAR))
            .signSelf(pair.getPrivate(), Lanternfish.RANDOM);
    file(folder, "evil.pem", Lanternfish.pem(evil));
    file(folder, "key.pem", PemWriter.write("PRIVATE KEY", pair.getPrivate().getEncoded()));
    Path target = folder.resolve("out.p12");
    for (Run run :
        List.of(
            Run.of("survey", folder),
            Run.of("truststore", folder, "--into", folder.resolve("t.p12"), "--seal", "empty"),
            Run.of("join", folder, "--into", target, "--seal", "empty"))) {
      String all = run.out() + run.err();
      assertTrue(all.contains("u{1B}") || all.contains("\\1B"), all);
      for (char c : new char[] {'\u001B', '\u0007', '\u202E'}) {
        assertFalse(all.indexOf(c) >= 0, () -> "character " + (int) c + " in " + all);
      }
    }
  }

  @Test
  void outputsThatCanNotBeWritten() throws IOException {
    Path pile = pile(Files.createDirectory(folder.resolve("pile")));
    Path existing = Files.createFile(folder.resolve("existing.p12"));
    assertFailure(
        ExitCode.NOT_WRITTEN, Run.of("join", pile, "--into", existing, "--seal", "empty"));
    Path nowhere = folder.resolve("no/such/folder/x.p12");
    assertFailure(ExitCode.NOT_WRITTEN, Run.of("join", pile, "--into", nowhere, "--seal", "empty"));
    assertFailure(
        ExitCode.NOT_WRITTEN,
        Run.of(
            "join",
            pile,
            "--into",
            folder.resolve("x.p12"),
            "--seal",
            "new=" + folder.resolve("no/x.pass")));
    assertEquals(0, Files.size(existing));
    assertFalse(Files.exists(folder.resolve("x.p12")));
  }

  @Test
  void commandLinesThatAreWrong() {
    Path pile = pile(folder);
    List<List<Object>> lines =
        List.of(
            List.of("surveys", pile),
            List.of("survey"),
            List.of("survey", pile, "--nonsense"),
            List.of("survey", pile, "--host", "https://x.example"),
            List.of("survey", pile, "--unlock", "my-secret"),
            List.of("join", pile),
            List.of("join", pile, "--into", "x.unknown", "--seal", "empty"),
            List.of("join", pile, "--into", "x", "--as", "ksj", "--seal", "empty"),
            List.of("join", pile, "--into", folder.resolve("x.p12")),
            List.of("join", pile, "--into", "x.p12", "--into", "y.p12"),
            List.of("join", pile, "--into"),
            List.of(
                "truststore", pile, "--add", "--into", folder.resolve("no.p12"), "--seal", "empty"),
            List.of("probe", "ingest.lanternfish.example"),
            List.of("probe", "x:99999"),
            List.of("probe", "a:1", "b:2"),
            List.of("probe", "127.0.0.1:1", "--limit", "x"));
    for (List<Object> line : lines) {
      assertFailure(ExitCode.USAGE, Run.of(line.toArray()));
    }
  }

  @Test
  void aPasswordOnTheCommandLineIsRefusedAndNotRepeated() {
    for (List<String> line :
        List.of(
            List.of("--password=hunter22"),
            List.of("-phunter22"),
            List.of("--seal", "hunter22"),
            List.of("--seal=hunter22"))) {
      Object[] arguments =
          Stream.concat(Stream.of("join", "x", "--into", "x.p12"), line.stream()).toArray();
      Run run = Run.of(arguments);
      assertFalse((run.out() + run.err()).contains("hunter22"), run.err());
      assertTrue(run.code() != 0);
    }
  }

  @Test
  void nobodyAtAnAddress() {
    assertFailure(ExitCode.NO_ANSWER, Run.of("probe", "127.0.0.1:1", "--limit", "2"));
    Run json = Run.of("probe", "nowhere.lanternfish.example:443", "--json");
    assertEquals(ExitCode.NO_ANSWER, json.code());
    assertEquals(List.of("no-answer"), json.findingIds());
  }

  @Test
  void withoutATerminalNobodyIsAsked() {
    Path pile = pile(folder);
    Run run = Run.with(Map.of(), List.of(), "survey", pile, "--unlock", "ask");
    assertFailure(ExitCode.USAGE, run);
    assertTrue(run.err().contains("no terminal"), run.err());
  }

  @Test
  void helpAndVersionAreThereForEveryCommand() {
    assertEquals(0, Run.of("--version").code());
    assertEquals(0, Run.of("--help").code());
    for (String command : Command.names()) {
      Run help = Run.of(command, "--help");
      assertEquals(0, help.code());
      assertTrue(help.out().startsWith("symbolon " + command), help.out());
      assertEquals(help.out(), Run.of("help", command).out());
    }
  }
}
