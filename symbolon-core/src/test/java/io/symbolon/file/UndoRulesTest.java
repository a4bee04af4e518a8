// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.io.TempDir;

/** What is kept for undo, how long, and what taking back leaves alone. */
@EnabledOnOs({OS.LINUX, OS.MAC})
class UndoRulesTest {
  private static final Instant THEN = Instant.parse("2026-03-01T10:00:00.125Z");

  @TempDir Path temp;

  private static byte[] octets(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  private void write(String name, String text, Instant when) {
    FileSet.write(
        List.of(
            new FileItem(temp.resolve(name), octets(text), Privacy.OWNER_ONLY, Existing.REPLACE)),
        List.of(),
        () -> {},
        FolderOpening::open,
        when);
  }

  private Map<String, String> content() throws IOException {
    Map<String, String> content = new TreeMap<>();
    try (Stream<Path> files = Files.walk(temp)) {
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        content.put(temp.relativize(file).toString(), Files.readString(file));
      }
    }
    return content;
  }

  @Test
  void whatIsForgottenIsOverwrittenAndTheRestStays() throws IOException {
    Path key = temp.resolve("key");
    String secret = "the private key ".repeat(1_000); // longer than what is overwritten at once
    for (int day = 0; day < 5; day++) {
      write("key", secret + day, THEN.plus(Duration.ofDays(day)));
    }
    write("other", "one", THEN);
    write("other", "two", Instant.now());
    List<Undo.Version> versions = Undo.versions(key);
    assertEquals(4, versions.size());
    Path oldest = versions.get(3).kept();
    Path linked = Files.createLink(temp.resolve("copy"), oldest);
    assertEquals(0, Undo.forget(key, Duration.ofDays(36_500), 0));
    assertEquals(0, Undo.forget(key, Duration.ZERO, 4));
    assertEquals(1, Undo.forget(key, Duration.ZERO, 3), "three stay");
    assertFalse(Files.exists(oldest));
    byte[] left = Files.readAllBytes(linked);
    assertEquals(octets(secret).length + 1, left.length);
    for (byte octet : left) {
      assertEquals(0, octet, "overwritten");
    }
    assertEquals(versions.subList(0, 3), Undo.versions(key));
    assertEquals(4, Undo.forget(temp, Duration.ZERO, 0), "all of a folder");
    assertEquals(List.of(), Undo.versions(temp));
    try (Stream<Path> rest = Files.list(java.util.Objects.requireNonNull(oldest.getParent()))) {
      assertEquals(List.of(), rest.toList(), "nothing is left of it");
    }
    assertEquals(secret + 4, Files.readString(key));
  }

  @Test
  void onlyTheLatestVersionsOfAFileAreKept() throws IOException {
    for (int i = 0; i < 60; i++) {
      write("a", "text " + i, THEN.plusSeconds(i));
    }
    List<Undo.Version> versions = Undo.versions(temp.resolve("a"));
    assertTrue(versions.size() < 59, "the oldest are gone: " + versions.size());
    assertEquals("text 58", Files.readString(versions.get(0).kept()));
    assertEquals(THEN.plusSeconds(59), versions.get(0).replacedAt());
    Undo.Replacement last = Undo.replacements(temp).get(0);
    assertEquals("20260301T100059.125Z", last.stamp());
    assertEquals(List.of(versions.get(0)), last.versions());
  }

  @Test
  void twoAtTheSameMomentHaveNamesOfTheirOwn() {
    write("a", "one", THEN);
    for (int i = 0; i < 3; i++) {
      write("a", "again " + i, THEN);
    }
    List<Instant> moments =
        Undo.versions(temp.resolve("a")).stream().map(Undo.Version::replacedAt).toList();
    assertEquals(List.of(THEN.plusMillis(2), THEN.plusMillis(1), THEN), moments);
  }

  @Test
  void theNumberOfACommandGivesTheOrderAndNotTheClock() throws IOException {
    write("a", "one", THEN);
    write("a", "two", THEN.plus(Duration.ofDays(400)));
    write("a", "three", THEN);
    write("a", "four", THEN.minus(Duration.ofDays(400)));
    Undo.bringBack(Undo.replacements(temp).get(0));
    assertEquals("three", Files.readString(temp.resolve("a")));
    assertEquals(
        List.of("four", "two", "one"),
        Undo.versions(temp).stream().map(UndoRulesTest::read).toList());
  }

  private static String read(Undo.Version version) {
    try {
      return Files.readString(version.kept());
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  @Test
  void strangeFilesAmongWhatIsKeptArePassedOver() throws IOException {
    write("a", "one", THEN);
    write("a", "two", THEN);
    Path kept = java.util.Objects.requireNonNull(Undo.versions(temp).get(0).kept().getParent());
    for (String strange : List.of("x", "999999999999", "999999999999-0", "12")) {
      Files.writeString(kept.resolve(strange), "strange");
    }
    assertEquals(1, Undo.versions(temp).size());
    Path link = Files.createSymbolicLink(temp.resolve("link"), temp.resolve("a"));
    assertEquals("a", Undo.versions(link).get(0).target().getFileName().toString());
    assertEquals(List.of(), Undo.versions(temp.resolve("absent/x")));
    Path dangling = Files.createSymbolicLink(temp.resolve("dangling"), temp.resolve("b"));
    assertEquals(List.of(), Undo.versions(dangling));
    Undo.Version gone = Undo.versions(temp).get(0);
    Files.delete(gone.kept());
    SymbolonException e = assertThrows(SymbolonException.class, () -> Undo.bringBack(gone));
    assertEquals(Reason.NOT_FOUND, e.reason());
  }

  /** Does something when a name is given, as another program would between two steps. */
  private static OpenFolder.Opener when(String newName, WatchedFolder.Watcher then) {
    return folder ->
        new WatchedFolder(
            FolderOpening.open(folder),
            new WatchedFolder.Watcher() {
              @Override
              public void before(Path name) {}

              @Override
              public void renamed(Path name) throws IOException {
                if (name.toString().equals(newName)) {
                  then.before(name);
                }
              }
            });
  }

  @Test
  void anUndoingThatCannotBeFinishedIsTakenBack() throws IOException {
    write("a", "one", THEN);
    write("b", "one", THEN);
    FileSet.write(
        List.of(
            new FileItem(temp.resolve("made"), octets("new"), Privacy.OWNER_ONLY, Existing.KEEP)
                .goingWithUndo(),
            new FileItem(temp.resolve("a"), octets("two"), Privacy.OWNER_ONLY, Existing.REPLACE),
            new FileItem(temp.resolve("b"), octets("two"), Privacy.OWNER_ONLY, Existing.REPLACE)));
    Undo.Replacement last = Undo.replacements(temp).get(0);
    assertEquals(3, last.versions().size());
    for (String changed : List.of("a", "b")) {
      Map<String, String> expected = content();
      expected.put(changed, "by hand");
      assertThrows(
          SymbolonException.class,
          () ->
              Undo.bringBack(
                  last,
                  when("journal", name -> Files.writeString(temp.resolve(changed), "by hand"))));
      assertEquals(expected, content(), changed);
      Files.writeString(temp.resolve(changed), "two");
    }
    Undo.bringBack(Undo.replacements(temp).get(0));
    Map<String, String> undone = content();
    assertEquals("one", undone.get("a"));
    assertFalse(undone.containsKey("made"));
  }

  @Test
  void whatIsReplacedWithoutUndoComesBackWhereTheStepFails() throws IOException {
    write("a", "one", THEN);
    write("z", "one", THEN);
    Map<String, String> before = content();
    before.put("z", "by hand");
    List<FileItem> items =
        List.of(
            new FileItem(temp.resolve("a"), octets("two"), Privacy.OWNER_ONLY, Existing.REPLACE)
                .withoutUndo(),
            new FileItem(temp.resolve("made/x"), octets("two"), Privacy.OWNER_ONLY, Existing.KEEP),
            new FileItem(temp.resolve("fresh"), octets("two"), Privacy.OWNER_ONLY, Existing.KEEP)
                .goingWithUndo(),
            new FileItem(temp.resolve("z"), octets("two"), Privacy.OWNER_ONLY, Existing.REPLACE));
    assertThrows(
        SymbolonException.class,
        () ->
            FileSet.write(
                items,
                List.of(temp.resolve("made")),
                () -> {},
                when("journal", name -> Files.writeString(temp.resolve("z"), "by hand")),
                Instant.now()));
    assertEquals(before, content());
    assertFalse(Files.exists(temp.resolve("made")));
    assertEquals(List.of(), Undo.versions(temp).stream().filter(Undo.Version::absent).toList());
    assertEquals(List.of(), FileSet.write(List.of()));
  }

  @Test
  void pendingFilesOfAllKindsAreTakenBack() throws IOException {
    write("a", "one", THEN);
    Map<String, String> before = content();
    try (PendingFiles pending =
        FileSet.writePending(
            List.of(
                new FileItem(temp.resolve("a"), octets("two"), Privacy.OWNER_ONLY, Existing.REPLACE)
                    .withoutUndo(),
                new FileItem(
                        temp.resolve("fresh"), octets("two"), Privacy.OWNER_ONLY, Existing.KEEP)
                    .goingWithUndo()),
            List.of())) {
      assertEquals(2, pending.written().size());
      assertEquals("two", Files.readString(temp.resolve("a")));
      assertEquals(List.of(), pending.takeBack());
      assertThrows(IllegalStateException.class, pending::takeBack);
    }
    assertEquals(before, content());
    for (String refused : List.of("a", "no/x")) {
      FileItem item =
          new FileItem(temp.resolve(refused), octets("x"), Privacy.OWNER_ONLY, Existing.KEEP);
      assertThrows(
          SymbolonException.class, () -> FileSet.writePending(List.of(item), List.of()), refused);
    }
    assertEquals(before, content());
    write("a", "three", Instant.now()); // nobody holds the folder any more
  }

  @Test
  void aFolderOfThatNameThatIsNotOnRecordIsLeft() throws IOException {
    write("a", "one", THEN);
    Path authority = Files.createDirectory(temp.resolve("ca"));
    Files.setPosixFilePermissions(authority, PosixFilePermissions.fromString("rwx------"));
    Files.writeString(authority.resolve("authority.key"), "the key");
    Path renamed = Files.move(authority, temp.resolve(StageFolder.PREFIX + "0123456789abcdef"));
    write("a", "two", THEN);
    FolderWork.holding(List.of(temp.resolve("a")), () -> "");
    assertEquals("the key", Files.readString(renamed.resolve("authority.key")));
    assertEquals(List.of(), Leftovers.unfinished(List.of(temp.resolve("a"), temp.resolve("no/x"))));
    assertFalse(Leftovers.isOnRecord(renamed));
  }
}
