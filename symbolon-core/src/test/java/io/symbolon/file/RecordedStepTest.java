// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Whoever may rename in a folder exchanges what a killed command of root's has left there: nothing
 * is deleted, waited for or believed that is not on record.
 */
class RecordedStepTest {
  private static final Duration SOON = Duration.ofSeconds(60);

  @TempDir Path temp;
  private Path folder;
  private Path store;

  private static final class Death extends Error {
    private static final long serialVersionUID = 1L;
  }

  @BeforeEach
  void begin() throws IOException {
    assumeTrue(Files.getOwner(Path.of("/proc/self")).getName().equals("root"), "needs root");
    folder = Files.createDirectory(temp.resolve("shared"));
    Files.setAttribute(folder, "unix:gid", Files.getAttribute(Path.of("/etc/passwd"), "unix:gid"));
    Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxrwxr-x"));
    store = Files.writeString(folder.resolve("store.crt"), "old");
  }

  /** A command that is killed when its files are prepared; its folder. */
  private Path killed() throws IOException {
    return killedAt("journal.new");
  }

  private Path killedAt(String file) throws IOException {
    boolean[] dead = {false};
    WatchedFolder.Watcher dies =
        name -> {
          dead[0] |= name.toString().equals(file);
          if (dead[0]) {
            throw new Death(); // nothing is done from then on, not even tidying up
          }
        };
    assertThrows(
        Death.class,
        () ->
            FileSet.write(
                List.of(
                    new FileItem(
                        store,
                        "new".getBytes(StandardCharsets.UTF_8),
                        Privacy.SYSTEM_DEFAULT,
                        Existing.REPLACE)),
                List.of(),
                () -> {},
                opened -> new WatchedFolder(FolderOpening.open(opened), dies),
                Instant.now()));
    return stages().get(0);
  }

  private List<Path> stages() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files
          .filter(one -> one.getFileName().toString().startsWith(StageFolder.PREFIX))
          .toList();
    }
  }

  /** The next command that writes there, and what reading commands ask. */
  private void next() {
    assertTimeoutPreemptively(
        SOON,
        () -> {
          var unused = Leftovers.unfinished(List.of(store));
          FolderWork.holding(List.of(store), () -> "");
        });
  }

  @Test
  void whatItLeftIsToldByWhoReadsAndRemovedByWhoWrites() throws Exception {
    Path stage = killed();
    assertEquals(List.of(folder.toRealPath()), Leftovers.unfinished(List.of(store)));
    assertTrue(Files.exists(stage), "reading changes nothing");
    assertTrue(Leftovers.isOnRecord(stage));
    next();
    assertEquals(List.of(), stages());
    assertEquals("old", Files.readString(store));
    assertEquals(List.of(), Leftovers.unfinished(List.of(store)));
  }

  @Test
  void oneWhoseMarkWasOnlyBegunIsRemovedAsWell() throws Exception {
    Path begun = killedAt("mark");
    Files.writeString(begun.resolve("mark"), ""); // as on a disk that is full
    next();
    assertEquals(List.of(), stages());
    Path other = killedAt("mark");
    Files.writeString(other.resolve("mark"), "of somebody else");
    next();
    assertEquals("of somebody else", Files.readString(other.resolve("mark")));
  }

  @Test
  void anotherFolderOfRootsThatGetsItsNameStaysWhole() throws Exception {
    Path stage = killed();
    Path authority = Files.createDirectory(folder.resolve("ca"));
    Files.setPosixFilePermissions(authority, PosixFilePermissions.fromString("rwx------"));
    Files.writeString(authority.resolve("authority.key"), "the key");
    Files.writeString(authority.resolve("0.new"), "a file of the same name");
    Files.move(stage, folder.resolve("away"));
    Files.move(authority, stage);
    next();
    assertEquals("the key", Files.readString(stage.resolve("authority.key")));
    assertEquals("a file of the same name", Files.readString(stage.resolve("0.new")));
  }

  @Test
  void aCopyOfItWithAForgedJournalIsNotBelieved() throws Exception {
    Path stage = killed();
    Path copy = Files.createDirectory(folder.resolve("copy"));
    Files.setPosixFilePermissions(copy, PosixFilePermissions.fromString("rwx------"));
    for (String name : List.of("mark", "0.new", "0.old")) {
      Files.copy(stage.resolve(name), copy.resolve(name));
    }
    Path precious = Files.writeString(temp.resolve("precious"), "root's own");
    Files.writeString(copy.resolve("journal"), "gone 0 0 - - " + precious);
    Files.writeString(copy.resolve("home"), temp.toUri().toString());
    Files.move(stage, temp.resolve("away"));
    Files.move(copy, stage);
    next();
    assertEquals("root's own", Files.readString(precious));
    assertTrue(Files.exists(stage.resolve("journal")));
    assertEquals("old", Files.readString(store));
  }

  @Test
  void aPipeInItsPlaceIsNotWaitedFor() throws Exception {
    Path stage = killed();
    Files.move(stage, folder.resolve("away"));
    assertEquals(0, new ProcessBuilder("mkfifo", stage.toString()).start().waitFor());
    next();
    assertTrue(Files.exists(stage, LinkOption.NOFOLLOW_LINKS));
    assertTimeoutPreemptively(
        SOON,
        () -> {
          SymbolonException e =
              assertThrows(
                  SymbolonException.class,
                  () ->
                      SafeFile.write(stage, new byte[1], Privacy.SYSTEM_DEFAULT, Existing.REPLACE));
          assertEquals(Reason.NOT_WRITABLE, e.reason());
        });
  }

  @Test
  void locksOfThatNameOfOthersKeepNobodyOut() throws Exception {
    Path lock = Files.createDirectory(folder.resolve(".symbolon-lock"));
    assertEquals(0, new ProcessBuilder("mkfifo", folder + "/.symbolon-undo").start().waitFor());
    next();
    SafeFile.write(store, new byte[1], Privacy.SYSTEM_DEFAULT, Existing.REPLACE);
    assertTrue(Files.isDirectory(lock));
    assertFalse(Undo.versions(store).isEmpty());
  }

  @Test
  void whatIsStoredIsBelievedOnlyWhereNobodyElseCanWriteIt() throws Exception {
    Path own = Files.createDirectory(temp.resolve("account"));
    Path file = Files.writeString(own.resolve("a.order.json"), "{}");
    StoredTrust.checkFolder(own, "The account");
    Files.setOwner(
        file, temp.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("nobody"));
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> StoredTrust.checkFolder(own, "The account"));
    assertEquals(Reason.NOT_TRUSTED, e.reason());
    assertTrue(e.seen().contains("nobody"), e.seen());
    assertTrue(e.remedy().advice().contains("runuser -u nobody"), e.remedy().advice());
    Path linked = Files.createSymbolicLink(folder.resolve("rules.yaml"), own.resolve("x"));
    Files.writeString(own.resolve("x"), "x");
    Files.setAttribute(
        linked, "unix:uid", Files.getAttribute(file, "unix:uid"), LinkOption.NOFOLLOW_LINKS);
    assertThrows(SymbolonException.class, () -> StoredTrust.check(linked, "The description"));
  }
}
