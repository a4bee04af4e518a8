// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.cli.session.ExitCode;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.text.VisibleText;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.ServerSocketChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the command line says and does where somebody could lose or leak a key. */
class SafetyCommandTest {
  @TempDir Path temp;
  private Path pile;
  private Path pass;

  @BeforeEach
  void pile() throws Exception {
    pile = Files.createDirectory(temp.resolve("pile"));
    Lanternfish.pile(pile);
    pass = Lanternfish.file(temp, "pass", "a password for the test\n");
    mode(pass, "rw-------");
  }

  private static void mode(Path file, String mode) throws Exception {
    Files.setPosixFilePermissions(file, PosixFilePermissions.fromString(mode));
  }

  private Run join(Path into, Object... more) {
    Object[] line = {"join", pile, "--into", into, "--seal", "file=" + pass, "--json"};
    Object[] all = java.util.Arrays.copyOf(line, line.length + more.length);
    System.arraycopy(more, 0, all, line.length, more.length);
    return Run.of(all);
  }

  @Test
  void aKeyGoesIntoNoFolderThatEverybodyCanChange() throws Exception {
    Path open = Files.createDirectory(temp.resolve("open"));
    mode(open, "rwxrwxrwx");
    Run run = join(open.resolve("k.p12"));
    assertEquals(ExitCode.NOT_WRITTEN, run.code());
    assertTrue(run.err().contains("chmod go-w"), run.err());
    assertEquals(0, open.toFile().list().length);
    // Certificates alone are no secret.
    Run trust =
        Run.of("truststore", pile, "--into", open.resolve("t.p12"), "--seal", "file=" + pass);
    assertEquals(ExitCode.DONE, trust.code(), trust.err());
  }

  @Test
  void whoMayReadTheResultIsSaidAsItIs() throws Exception {
    Path store = temp.resolve("k.p12");
    assertEquals("owner", join(store).json().at("/credential/files/0/readers").asText());
    mode(store, "rw-rw-r--");
    Run wide = join(store, "--replace");
    assertEquals("owner", wide.json().at("/credential/files/0/readers").asText());
    assertTrue(wide.findingIds().contains("rights-narrowed"), wide.out());
    mode(store, "rw-rw----");
    Run group = join(store, "--replace");
    assertEquals("group", group.json().at("/credential/files/0/readers").asText());
    assertTrue(group.findingIds().contains("readable-by-group"), group.out());
    assertEquals("rw-r-----", PosixFilePermissions.toString(Files.getPosixFilePermissions(store)));
  }

  @Test
  void anOpenKeyThatIsSealedIsToldToLieInTheUndoFolderAndCanBeForgotten() throws Exception {
    Path key = temp.resolve("k.pem");
    assertEquals(
        ExitCode.DONE,
        Run.of("convert", pile, "--part", "key", "--into", key, "--unsealed").code());
    Run sealed =
        Run.of("convert", key, "--into", key, "--replace", "--seal", "file=" + pass, "--json");
    assertTrue(sealed.findingIds().contains("open-key-kept"), sealed.out());
    assertTrue(sealed.out().contains("symbolon undo --forget"), sealed.out());
    Run kept = Run.of("undo", "--forget", key, "--keep", "1", "--json");
    assertEquals(0, kept.json().get("forgotten").asInt());
    Run young = Run.of("undo", "--forget", key, "--older-than", "1d", "--json");
    assertEquals(0, young.json().get("forgotten").asInt());
    Run forgotten = Run.of("undo", "--forget", key, "--json");
    assertEquals(1, forgotten.json().get("forgotten").asInt());
    assertEquals(0, Run.of("undo", "--list", key, "--json").json().get("versions").size());
    assertEquals(ExitCode.USAGE, Run.of("undo", key, "--keep", "1").code());
  }

  @Test
  void theLinesThatUndoSeveralChangesGoBackOneByOne() throws Exception {
    Path key = temp.resolve("steps.pem");
    List<String> octets = new ArrayList<>();
    List<String> lines = new ArrayList<>();
    for (int i = 0; i < 3; i++) {
      Run run =
          Run.of("convert", pile, "--part", "key", "--into", key, "--replace", "--seal", seal());
      assertEquals(ExitCode.DONE, run.code(), run.err());
      octets.add(Files.readString(key));
      Matcher line = Pattern.compile("symbolon (undo .*) brings it back").matcher(run.out());
      if (line.find()) {
        lines.add(line.group(1));
      }
    }
    assertEquals(2, lines.size());
    for (int i = 1; i >= 0; i--) {
      Run undone = Run.of((Object[]) lines.get(i).split(" "));
      assertEquals(ExitCode.DONE, undone.code(), undone.err());
      assertEquals(octets.get(i), Files.readString(key));
    }
  }

  private String seal() {
    return "file=" + pass;
  }

  @Test
  void undoThroughALinkFindsWhatWasReplacedBehindIt() throws Exception {
    Path real = Files.createDirectory(temp.resolve("real")).resolve("k.p12");
    assertEquals(ExitCode.DONE, join(real).code());
    byte[] before = Files.readAllBytes(real);
    Path link = Files.createSymbolicLink(temp.resolve("link.p12"), real);
    assertEquals(ExitCode.DONE, join(link, "--replace").code());
    assertEquals(ExitCode.DONE, Run.of("undo", link).code());
    assertArrayEquals(before, Files.readAllBytes(real));
    assertTrue(Files.isSymbolicLink(link));
  }

  @Test
  void aPasswordFileThatOthersCanReadIsTold() throws Exception {
    mode(pass, "rw-r--r--");
    Path store = temp.resolve("k.p12");
    String from = "file=" + pass;
    toldOfOpenPassword(join(store));
    toldOfOpenPassword(Run.of("survey", store, "--unlock", from, "--json"));
    toldOfOpenPassword(
        Run.of(
            "rehearse",
            "--server",
            store,
            "--client-trust",
            pile.resolve("bundle.crt"),
            "--unlock",
            from,
            "--json"));
    toldOfOpenPassword(
        Run.of(
            "request",
            "--like",
            store,
            "--same-key",
            "--unlock",
            from,
            "--into",
            at("r.csr"),
            "--json"));
    toldOfOpenPassword(
        Run.of(
            "request",
            "--host",
            "x.example",
            "--into",
            at("s.csr"),
            "--key-into",
            at("s.key"),
            "--seal",
            from,
            "--json"));
    Path root = at("root");
    toldOfOpenPassword(
        Run.of(
            "authority", "found", root, "--subject", "CN=Lanternfish", "--seal", from, "--json"));
    toldOfOpenPassword(
        Run.of("authority", "revoke", "--fresh", "--by", root, "--unlock", from, "--json"));
  }

  private Path at(String name) {
    return temp.resolve(name);
  }

  private static void toldOfOpenPassword(Run run) {
    assertEquals(ExitCode.DONE, run.code(), run.err());
    assertTrue(run.findingIds().contains("password-file-open"), run.out());
  }

  @Test
  void aPasswordThatWasTypedInThePlaceOfItsSourceIsNotRepeated() {
    for (String source : List.of("file=hunter2secret", "env=hunter2secret")) {
      for (String option : List.of("--unlock", "--seal")) {
        Run run = Run.of("join", pile, "--into", temp.resolve("x.p12"), option, source, "--json");
        assertEquals(ExitCode.INPUT, run.code(), option + source);
        assertFalse((run.out() + run.err()).contains("hunter2secret"), run.err());
      }
    }
  }

  @Test
  void devicesAndSocketsAreNeitherReadNorReplaced() throws Exception {
    Path socket = pile.resolve("socket");
    try (ServerSocketChannel channel = ServerSocketChannel.open(StandardProtocolFamily.UNIX)) {
      channel.bind(UnixDomainSocketAddress.of(socket));
      Run survey = Run.of("survey", pile, "--json");
      assertTrue(survey.findingIds().contains("not-a-file"), survey.out());
      assertEquals(ExitCode.INPUT, Run.of("survey", socket).code());
      assertEquals(ExitCode.NOT_WRITTEN, join(socket, "--as", "pkcs12", "--replace").code());
      assertFalse(Files.isRegularFile(socket));
    }
  }

  @Test
  void countsThatMultiplyAreNoPatternForARule() throws Exception {
    Path rules =
        Lanternfish.file(
            temp,
            "rules.yaml",
            """
            receiver: Tidewater
            subject:
              CN: {presence: required, pattern: '((){1,999999}){1,999999}'}
            """);
    Run run =
        Run.of(
            "request",
            "--subject",
            "CN=a",
            "--for",
            "client",
            "--rules",
            rules,
            "--into",
            temp.resolve("a.csr"),
            "--key-into",
            temp.resolve("a.key"),
            "--unsealed");
    assertTrue(run.code() == ExitCode.INPUT, run.code() + run.err() + run.out());
  }

  @Test
  void whatIsNotToBeSeenIsShown() {
    assertEquals(
        "a\\u{3164}b\\u{A0}c\\u{2800}\\u{FE0F}", VisibleText.of("a\u3164b\u00A0c\u2800\uFE0F"));
    assertEquals("größe 日本", VisibleText.of("größe 日本"));
  }
}
