// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.configure.FileDiff;
import io.symbolon.failure.SymbolonException;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Descriptions: what is wrong in them, and what they may not do. */
class DescriptionTest {
  private static final String SOUND =
      """
      server: tidewatch
      where:
        home: [/opt/tidewatch]
      files:
        store:
          holds: [key, certificate, intermediates]
          as: pkcs12
          name: keys.p12
          alias: tide
      settings:
        - file: tide.ini
          language: ini
          always:
            web:
              store: "{store.path}"
              pass: "{store.password}"
          mutual:
            web: {clients: must}
          asks-clients:
            web: {ca: "{ca.path}"}
      """
          .replace("settings:", "  ca:\n    holds: [trust]\n    name: ca.pem\nsettings:");

  @TempDir Path temp;
  private final Machine machine = Machine.here();

  private static String mistakes(String text) {
    return assertThrows(SymbolonException.class, () -> DescribedServer.of("tide.yaml", text))
        .seen();
  }

  private static Wish mutual() {
    return Wish.of(INGEST.withoutRoot())
        .withClients(Mode.MUTUAL, new ClientTrust(List.of(root(), issuing()), List.of()));
  }

  private SymbolonException refused(String text, String settings) {
    DescribedServer server = DescribedServer.of("tide.yaml", text);
    file(temp, "tide.ini", settings);
    Installation there = server.at(machine, temp);
    return assertThrows(SymbolonException.class, () -> server.propose(machine, there, mutual()));
  }

  @Test
  void everyMistakeIsToldAtOnceWithItsLine() {
    assertEquals("tidewatch", DescribedServer.of("tide.yaml", SOUND).name());
    String seen =
        mistakes(
            SOUND
                .replace("server: tidewatch", "server: Tide Watch\ncolour: blue")
                .replace("as: pkcs12", "as: pkcs13")
                .replace("{store.path}", "{shop.path}")
                .replace("name: ca.pem", "name: ../ca.pem"));
    for (String one :
        List.of(
            "Line 1: A server's name is of small letters",
            "Line 2: 'colour' is not one of ",
            "'pkcs13' is not one of ",
            "{shop.path} names no file",
            "leads out of its folder")) {
      assertTrue(seen.contains(one), () -> one + " is missing in " + seen);
    }
  }

  @Test
  void anotherFormIsReadAsStrictly() {
    String form =
        "form: pkcs12\nother-forms:\n  pem:\n    set: {type: pem}\n    settings: {file: tide.ini,"
            + " language: ini, always: {type: pem, cert: \"{store.path}\"}}\n";
    assertEquals(List.of("pkcs12", "pem"), DescribedServer.of("tide.yaml", SOUND + form).forms());
    assertEquals(List.of(), DescribedServer.of("tide.yaml", SOUND).forms());
    for (String[] wrong :
        new String[][] {
          {"form: pkcs12\n", "", "'form' is missing"},
          {"    set: {type: pem}\n", "", "'set' is missing"},
          {"  pem:", "  Pem:", "small letters, digits and dashes"},
          {"  pem:", "  pkcs12:", "is the usual form already"},
          {"file: tide.ini", "file: other.ini", "first settings file of each form is the same"},
          {"    set:", "    colour: red\n    set:", "'colour' is not one of set, files, settings"},
          {"store.path", "shop.path", "{shop.path} names no file"},
        }) {
      String seen = mistakes(SOUND + form.replace(wrong[0], wrong[1]));
      assertTrue(seen.contains(wrong[2]), seen);
    }
    String none = form.substring(0, form.indexOf("    settings:"));
    assertTrue(mistakes(SOUND + none).contains("'settings' is missing: this form"), none);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "holds: [trust] | holds: [trust, key] | Do not put trusted authorities",
        "name: keys.p12 | name: keys.p12\\n    mode: 0644 | not for everybody",
        "home: [/opt/tidewatch] | home: [/] | The whole machine",
        "home: [/opt/tidewatch] | home: [opt] | not a whole path",
        "language: ini | language: cobol | 'cobol' is not one of",
        "clients: must | pass: must | go together",
        "server: tidewatch | server: tidewatch\\ncheck: {run: [a], wrong: \"(((\"} | not a regular expression",
        "server: tidewatch | server: tidewatch\\ncheck: {run: [\"{shell}\"]} | {shell} is not one of",
        "file: tide.ini | file: ../../etc/shadow | leads out of its folder",
        "server: tidewatch | server: [ | It is not YAML",
        "clients: must | clients: \"{\" | written twice",
        "server: tidewatch | server: tidewatch\\nserver: other | 'server' is there twice",
        "alias: tide | alias: \"{user}\" | {user} is not one of",
        "clients: must | clients: \"{store.password by rot}\" | no program that is called rot",
      })
  void mistakesAreTold(String sound, String broken, String told) {
    String seen = mistakes(SOUND.replace(sound, broken.replace("\\n", "\n")));
    assertTrue(seen.contains(told), seen);
  }

  @Test
  void nothingIsWrittenOutsideItsHome() throws IOException {
    String absolute = SOUND.replace("name: ca.pem", "name: /etc/tide-ca.pem");
    assertTrue(refused(absolute, "").seen().contains("not in the server's home"));
    Path elsewhere = Files.createTempDirectory("elsewhere");
    Files.createSymbolicLink(temp.resolve("tls"), elsewhere);
    SymbolonException e = refused(SOUND, "");
    assertTrue(e.seen().contains("by a link"), e.seen());
    assertTrue(e.seen().contains(elsewhere.toString()), e.seen());
    Files.delete(temp.resolve("tls"));
    Files.createSymbolicLink(temp.resolve("tls"), elsewhere.resolve("gone/by/now"));
    assertTrue(refused(SOUND, "").seen().contains("not in the server's home"));
  }

  @Test
  void aProgramThatIsNotThereOrFailsChangesNothing() throws IOException {
    String turning =
        SOUND
            .replace("{store.password}", "{store.password by rot}")
            .replace("settings:", "turn:\n  rot: {run: [bin/rot], seconds: 5}\nsettings:");
    assertTrue(refused(turning, "").seen().contains("could not be run to its end"));
    Path tool = file(Files.createDirectory(temp.resolve("bin")), "rot", "#!/bin/sh\nexit 3\n");
    Files.setPosixFilePermissions(tool, PosixFilePermissions.fromString("rwxr-xr-x"));
    assertTrue(refused(turning, "").seen().contains("ended with 3"));
    Files.writeString(tool, "#!/bin/sh\nsleep 60\n");
    assertTrue(
        refused(turning.replace("seconds: 5", "seconds: 1"), "")
            .seen()
            .contains("could not be run"));
    Files.writeString(tool, "#!/bin/sh\necho one; echo two\n");
    assertTrue(refused(turning, "").remedy().advice().contains("one line"));
  }

  @Test
  void whatAnAccountCouldHaveChangedIsNotRunAsRoot() throws IOException {
    Assumptions.assumeTrue("root".equals(System.getProperty("user.name")), "this is root's");
    String turning =
        SOUND
            .replace("{store.password}", "{store.password by rot}")
            .replace("settings:", "turn:\n  rot: {run: [bin/rot], seconds: 5}\nsettings:");
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
    Path bin = Files.createDirectory(temp.resolve("bin"));
    Path tool = file(bin, "rot", "#!/bin/sh\necho \"by $(id -un)\"\n");
    for (Path path : List.of(bin, tool)) {
      Files.setPosixFilePermissions(path, PosixFilePermissions.fromString("rwxr-xr-x"));
      Files.setOwner(
          path,
          path.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("daemon"));
    }
    file(temp, "tide.ini", "");
    DescribedServer server = DescribedServer.of("tide.yaml", turning);
    String written =
        server.propose(machine, server.at(machine, temp), mutual()).changes().stream()
            .filter(change -> change.settings())
            .map(change -> new String(change.after(), StandardCharsets.UTF_8))
            .findFirst()
            .orElseThrow();
    assertTrue(written.contains("by daemon"), written);
    Files.setPosixFilePermissions(tool, PosixFilePermissions.fromString("rwxrwxrwx"));
    assertTrue(refused(turning, "").seen().contains("can be changed by everybody"));
  }

  @Test
  void passwordsAreNotShownWhateverTheirSettingIsCalled() {
    DescribedServer server = DescribedServer.of("tide.yaml", SOUND);
    file(temp, "tide.ini", "[web]\npass = of-17-buoys\n");
    Proposal proposal = server.propose(machine, server.at(machine, temp), mutual());
    String shown =
        String.join(
            "\n",
            proposal.changes().stream()
                .filter(change -> change.settings())
                .flatMap(change -> FileDiff.lines(change).stream())
                .toList());
    assertTrue(shown.contains("+pass = ****"), shown);
    assertTrue(shown.contains("-pass = ****"), shown);
    assertFalse(shown.contains("of-17-buoys"), shown);
  }

  @Test
  void whatItCantDoIsSaid() {
    assertTrue(refusedWish(mutual().withMode(Mode.OPTIONAL)).seen().contains("no mode optional"));
    assertTrue(refusedWish(mutual().withPort(99)).seen().contains("where its port stands"));
    assertTrue(refusedWish(mutual().withCiphers("ALL")).seen().contains("cipher suites"));
    assertTrue(refusedWish(mutual().withRedirectFrom(80)).seen().contains("redirects"));
  }

  private SymbolonException refusedWish(Wish wish) {
    DescribedServer server = DescribedServer.of("tide.yaml", SOUND);
    file(temp, "tide.ini", "");
    return assertThrows(
        SymbolonException.class, () -> server.propose(machine, server.at(machine, temp), wish));
  }

  @Test
  void aFileThatIncludesItselfIsTold() {
    String including =
        SOUND.replace("language: ini", "language: ini\n    includes: [{key: \"!include\"}]");
    assertTrue(refused(including, "!include tide.ini\n").seen().contains("includes itself"));
  }

  @Test
  void aHugeDescriptionIsNotRead() {
    Path big = file(temp, "big.yaml", ("# " + "x".repeat(98) + "\n").repeat(3_000));
    assertTrue(
        assertThrows(SymbolonException.class, () -> DescribedServer.of(big))
            .seen()
            .contains("octets"));
    Path binary = file(temp, "binary.yaml", new byte[] {(byte) 0xff, (byte) 0xfe, 0, 1});
    assertThrows(SymbolonException.class, () -> DescribedServer.of(binary));
    String laughs =
        "a: &a [x, x]\nb: &b [*a, *a]\nc: [*b, *b, *b, *b, *b, *b, *b, *b, *b, *b, *b]\n";
    assertTrue(!mistakes(laughs).isEmpty(), "no aliases without end");
  }
}
