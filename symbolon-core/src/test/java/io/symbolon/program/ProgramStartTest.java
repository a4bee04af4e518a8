// SPDX-License-Identifier: Apache-2.0
package io.symbolon.program;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Root starts programs of two other accounts, which control what they can of them. */
class ProgramStartTest {
  private static final String ACCOUNT = "nobody";
  private static final String OTHER = "daemon";

  @TempDir Path temp;

  @BeforeEach
  void root() throws IOException {
    assumeTrue(ProgramStart.us().equals("root"), "needs root");
    mode(temp, "rwxr-xr-x");
  }

  private static void mode(Path path, String mode) throws IOException {
    Files.setPosixFilePermissions(path, PosixFilePermissions.fromString(mode));
  }

  private static void owner(Path path, String account) throws IOException {
    Files.setOwner(
        path, path.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName(account));
  }

  private Path folder(String name, String account) throws IOException {
    Path folder = Files.createDirectory(temp.resolve(name));
    mode(folder, "rwxr-xr-x");
    owner(folder, account);
    return folder;
  }

  private static Path script(Path path, String text, String account) throws IOException {
    Files.writeString(path, text);
    mode(path, "rwxr-xr-x");
    owner(path, account);
    return path;
  }

  private static String printed(ProgramStart start) throws Exception {
    Process process = start.builder().redirectErrorStream(true).start();
    process.getOutputStream().close();
    String text = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertEquals(0, process.waitFor(), text);
    return text;
  }

  private static SymbolonException refused(ProgramStart start) {
    SymbolonException e = assertThrows(SymbolonException.class, start::builder);
    assertEquals(Reason.NOT_TRUSTED, e.reason());
    return e;
  }

  private static ProgramStart start(Path program) {
    return ProgramStart.of(List.of(program.toString()));
  }

  @Test
  void whoeverControlsAPartOfTheWayIsWhomItRunsAs() throws Exception {
    String who = "#!/bin/sh\nid -un; id -Gn\n";
    Path home = folder("home", ACCOUNT);
    Path own = script(home.resolve("own"), who, ACCOUNT);
    assertTrue(printed(start(own)).startsWith(ACCOUNT + "\n"));
    assertFalse(printed(start(own)).contains("root"), "no group of root's either");
    // A program of root's in a folder of the account's, and a link of the account's to another one.
    Path roots = script(home.resolve("roots"), who, "root");
    assertTrue(printed(start(roots)).startsWith(ACCOUNT + "\n"));
    Path link = Files.createSymbolicLink(home.resolve("control"), Path.of("/bin/id"));
    assertTrue(printed(start(link)).contains("(" + ACCOUNT + ")"));
    // Settings of the account's decide what a program of root's does.
    Path settings = Files.writeString(home.resolve("settings"), "load_module evil;");
    owner(settings, ACCOUNT);
    ProgramStart reads = ProgramStart.of(List.of("/usr/bin/id", "-un")).reading(List.of(settings));
    assertEquals(ACCOUNT + "\n", printed(reads));
    String why = reads.lowered().orElseThrow();
    assertTrue(why.contains("as the account " + ACCOUNT) && why.contains(home.toString()), why);
    assertEquals(Optional.empty(), ProgramStart.of(List.of("id")).lowered());
    assertEquals("root\n", printed(ProgramStart.of(List.of("id", "-un"))));
    assertEquals(
        OTHER + "\n",
        printed(ProgramStart.of(List.of("id", "-un")).as(Optional.of(OTHER))),
        "as was said");
  }

  @Test
  void whatSeveralControlIsNotStartedAndThePathAndItsOwnerAreSaid() throws Exception {
    Path home = folder("home", ACCOUNT);
    Path program = script(home.resolve("p"), "#!/bin/sh\n", OTHER);
    assertTrue(refused(start(program)).seen().contains(OTHER));
    Path open = script(folder("open", ACCOUNT).resolve("p"), "#!/bin/sh\n", ACCOUNT);
    mode(open, "rwxrwxrwx");
    assertTrue(refused(start(open)).seen().contains("everybody"));
    Path own = script(home.resolve("own"), "#!/bin/sh\n", ACCOUNT);
    SymbolonException e = refused(start(own).as(Optional.of(OTHER)));
    assertTrue(e.seen().contains(home + " belongs to the account " + ACCOUNT), e.seen());
    // The first line of a script names a program as well, also by way of env and of the account's.
    Path interpreter = script(home.resolve("sh"), "#!/bin/sh\nexec /bin/sh \"$@\"\n", ACCOUNT);
    Path roots = script(folder("roots", "root").resolve("p"), "#!" + interpreter + "\n", "root");
    assertTrue(refused(start(roots).as(Optional.of(OTHER))).seen().contains(ACCOUNT));
    assertThrows(NoSuchFileException.class, () -> start(home.resolve("absent")).builder());
  }

  @Test
  void nothingOfThisProcessReachesIt() throws Exception {
    Path program =
        script(
            folder("roots", "root").resolve("p"),
            "#!/bin/sh\nenv | sort; pwd; umask; ls /proc/self/fd | wc -l; ps -o sid=,pid= -p $$\n",
            "root");
    String text = printed(start(program).with(Map.of("CATALINA_BASE", "/srv/ingest")));
    List<String> names =
        text.lines().filter(line -> line.contains("=")).map(l -> l.split("=", 2)[0]).toList();
    assertEquals(
        List.of("CATALINA_BASE", "HOME", "LANG", "LC_ALL", "LOGNAME", "PATH", "PWD", "USER"),
        names.stream()
            .filter(name -> !List.of("OLDPWD", "SHLVL", "TZ", "_").contains(name))
            .toList());
    assertFalse(text.contains("SYMBOLON_STATE"), text);
    assertTrue(text.contains("\n/\n"), text);
    assertTrue(text.contains("\n0022\n"), text);
  }

  @Test
  void aProgramThatDoesByItsNameWhatItDoesKeepsItsName() throws Exception {
    Path folder = folder("roots", "root");
    script(folder.resolve("whole"), "#!/bin/sh\necho \"$0\"\n", "root");
    Path link = Files.createSymbolicLink(folder.resolve("part"), Path.of("whole"));
    assertTrue(printed(start(link)).endsWith("/part\n"));
  }
}
