// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A process that dies at any moment of a step leaves all of the step or nothing of it. */
class InterruptedStepTest {
  @TempDir Path top;
  private String usual;

  @BeforeEach
  void ownStateFolder() {
    usual = System.getProperty(StateFolder.PROPERTY, "");
    System.setProperty(StateFolder.PROPERTY, top.resolve("state").toString());
  }

  @AfterEach
  void usualStateFolder() {
    System.setProperty(StateFolder.PROPERTY, usual);
  }

  /** The process dies: nothing is done from then on, not even tidying up. */
  private static final class Death extends Error {
    private static final long serialVersionUID = 1L;
  }

  /** Is told each new name. */
  private interface Renamed {
    void to(Path newName) throws IOException;
  }

  /** Counts what is done to names and files, and dies at a given one. */
  private static final class Mortal implements WatchedFolder.Watcher {
    private final int last;
    private final Renamed renamed;
    private int done;

    Mortal(int last) {
      this(last, name -> {});
    }

    Mortal(int last, Renamed renamed) {
      this.last = last;
      this.renamed = renamed;
    }

    @Override
    public void before(Path name) {
      if (done++ >= last) {
        throw new Death();
      }
    }

    @Override
    public void renamed(Path newName) throws IOException {
      renamed.to(newName);
    }

    OpenFolder open(Path folder) throws IOException {
      return new WatchedFolder(FolderOpening.open(folder), this);
    }
  }

  private static byte[] octets(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  /** Every file below a folder with what is in it, but for what is kept for undo. */
  private static Map<String, String> content(Path folder) throws IOException {
    Map<String, String> content = new TreeMap<>();
    try (Stream<Path> files = Files.walk(folder)) {
      for (Path file : files.toList()) {
        String name = folder.relativize(file).toString();
        if (!file.equals(folder)) {
          content.put(
              name.replaceAll("\\d{8}T\\d{6}\\.\\d{3}Z", ""),
              Files.isDirectory(file) ? "/" : Files.readString(file));
        }
      }
    }
    return content;
  }

  private static void begin(Path folder) throws IOException {
    Files.createDirectories(folder.resolve("stores"));
    Files.createDirectories(folder.resolve("passwords"));
    Files.writeString(folder.resolve("stores/a.p12"), "old store");
    Files.writeString(folder.resolve("passwords/a.pass"), "old password");
  }

  private static List<FileItem> items(Path folder) {
    return List.of(
        new FileItem(
            folder.resolve("passwords/a.pass"),
            octets("new password"),
            Privacy.OWNER_ONLY,
            Existing.REPLACE),
        new FileItem(
            folder.resolve("stores/a.p12"),
            octets("new store"),
            Privacy.OWNER_ONLY,
            Existing.REPLACE),
        new FileItem(
                folder.resolve("stores/fresh.csr"),
                octets("a request"),
                Privacy.SYSTEM_DEFAULT,
                Existing.KEEP)
            .goingWithUndo(),
        new FileItem(
            folder.resolve("made/key.pem"), octets("a key"), Privacy.OWNER_ONLY, Existing.KEEP),
        new FileItem(
            folder.resolve("made/cert.pem"),
            octets("a certificate"),
            Privacy.SYSTEM_DEFAULT,
            Existing.KEEP));
  }

  /** What the next command that comes by does, in each folder. */
  private static void comeBy(Path folder) {
    for (String name : List.of("stores", "passwords", ".")) {
      FolderWork.holding(List.of(folder.resolve(name).resolve("anything")), () -> "");
    }
  }

  @Test
  void whereverAProcessDiesAllOfItsStepIsThereOrNothing() throws Exception {
    Path whole = top.resolve("whole");
    begin(whole);
    Map<String, String> before = content(whole);
    FileSet.write(items(whole), List.of(whole.resolve("made")));
    Map<String, String> after = content(whole);
    List<Integer> forward = new ArrayList<>();
    int died = 0;
    for (int last = 0; ; last++) {
      Path folder = top.resolve("dies-" + last);
      begin(folder);
      Mortal life = new Mortal(last);
      try {
        FileSet.write(
            items(folder), List.of(folder.resolve("made")), () -> {}, life::open, Instant.now());
        break;
      } catch (Death e) {
        died++;
      }
      comeBy(folder);
      Map<String, String> left = content(folder);
      assertTrue(left.equals(before) || left.equals(after), "at " + last + ": " + left);
      if (left.equals(after)) {
        forward.add(last);
      }
      comeBy(folder);
      assertEquals(left, content(folder), "tidying up again changes nothing, at " + last);
    }
    assertTrue(died > 40, "there are many moments: " + died);
    assertTrue(!forward.isEmpty() && forward.get(0) > 10, forward.toString());
  }

  /** A command of before is undone: what it replaced comes back, and what it made goes. */
  @Test
  void whereverAProcessDiesAllOfTheUndoingIsThereOrNothing() throws Exception {
    Path whole = top.resolve("whole");
    begin(whole);
    Map<String, String> begun = files(whole);
    FileSet.write(items(whole), List.of(whole.resolve("made")));
    Map<String, String> before = files(whole);
    Undo.bringBack(Undo.replacements(folders(whole)).get(0));
    Map<String, String> after = files(whole);
    assertFalse(after.containsKey("stores/fresh.csr"));
    after.keySet().removeIf(name -> name.startsWith("made"));
    assertEquals(begun, after);
    after = files(whole);
    Undo.bringBack(Undo.replacements(folders(whole)).get(0));
    assertEquals(before, files(whole), "undone in turn");
    Undo.bringBack(Undo.replacements(folders(whole)).get(0));
    assertEquals(after, files(whole), "and once more");
    int died = 0;
    for (int last = 0; ; last++) {
      Path folder = top.resolve("dies-" + last);
      begin(folder);
      FileSet.write(items(folder), List.of(folder.resolve("made")));
      Undo.Replacement meant = Undo.replacements(folders(folder)).get(0);
      Mortal life = new Mortal(last);
      try {
        Undo.bringBack(meant, life::open);
        assertEquals(after, files(folder));
        break;
      } catch (Death e) {
        died++;
      }
      comeBy(folder);
      Map<String, String> left = files(folder);
      assertTrue(left.equals(before) || left.equals(after), "at " + last + ": " + left);
      Undo.bringBack(Undo.replacements(folders(folder)).get(0));
      assertEquals(left.equals(before) ? after : before, files(folder), "at " + last);
    }
    assertTrue(died > 30, "there are many moments: " + died);
  }

  private static List<Path> folders(Path folder) {
    return List.of(folder.resolve("stores"), folder.resolve("passwords"));
  }

  /** Without what is kept. */
  private static Map<String, String> files(Path folder) throws IOException {
    Map<String, String> all = content(folder);
    return all;
  }

  @Test
  void whatSomebodyElseHasPutThereSinceIsNotReplacedByFinishingAStep() throws Exception {
    Path whole = top.resolve("whole");
    begin(whole);
    Map<String, String> before = content(whole);
    boolean back = false;
    for (int last = 0; ; last++) {
      Path folder = top.resolve("dies-" + last);
      begin(folder);
      Mortal life = new Mortal(last);
      try {
        FileSet.write(
            items(folder), List.of(folder.resolve("made")), () -> {}, life::open, Instant.now());
        break;
      } catch (Death e) {
        // somebody mends it by hand before the next command
      }
      Path store = folder.resolve("stores/a.p12");
      if (!Files.readString(store).equals("old store")) {
        break;
      }
      Files.writeString(store, "by hand");
      comeBy(folder);
      Map<String, String> expected = new TreeMap<>(before);
      expected.put("stores/a.p12", "by hand");
      assertEquals(expected, content(folder), "at " + last);
      back = true;
    }
    assertTrue(back);
  }

  @Test
  void aFileThatCannotGetItsNameTakesTheOthersBack() throws Exception {
    Path folder = top.resolve("x");
    begin(folder);
    Map<String, String> before = content(folder);
    Mortal life =
        new Mortal(
            Integer.MAX_VALUE,
            newName -> {
              if (newName.toString().equals("journal")) {
                // Somebody takes the free name at the last moment.
                Files.writeString(folder.resolve("stores/fresh.csr"), "another's");
              }
            });
    assertThrows(
        SymbolonException.class,
        () ->
            FileSet.write(
                items(folder),
                List.of(folder.resolve("made")),
                () -> {},
                life::open,
                Instant.now()));
    Map<String, String> expected = new TreeMap<>(before);
    expected.put("stores/fresh.csr", "another's");
    assertEquals(expected, content(folder));
  }

  /** Where the steps stand that dead commands have left on record. */
  private static Set<StepState> left() throws IOException {
    Set<StepState> states = EnumSet.noneOf(StepState.class);
    try (OpenFolder state = StateFolder.find(FileSystems.getDefault()).orElseThrow()) {
      for (StepRecord record : StepRecord.abandoned(state)) {
        try (record) {
          states.add(record.step());
        }
      }
    }
    return states;
  }

  private static List<String> locks() throws IOException {
    Path locks = StateFolder.opened(FileSystems.getDefault()).orElseThrow().resolve("locks");
    try (Stream<Path> all = Files.list(locks)) {
      return all.map(one -> one.getFileName().toString())
          .filter(name -> !name.equals("state")) // taken, and removed, by the next one that writes
          .sorted()
          .toList();
    }
  }

  /**
   * One step that goes well and one that must be taken back, each killed at each of its moments.
   */
  @Test
  void whereverAStepStandsWhenItsProcessDiesTheNextCommandEndsIt() throws Exception {
    FolderWork.holding(List.of(top.resolve("anything")), () -> "");
    assertEquals(Set.of(), left());
    Set<StepState> seen = EnumSet.noneOf(StepState.class);
    for (boolean fails : List.of(false, true)) {
      boolean ended = false;
      for (int last = 0; !ended; last++) {
        Path folder = top.resolve((fails ? "fails-" : "dies-") + last);
        begin(folder);
        Mortal life =
            new Mortal(
                last,
                newName -> {
                  if (fails && newName.toString().equals("journal")) {
                    Files.writeString(folder.resolve("stores/fresh.csr"), "another's");
                  }
                });
        try {
          FileSet.write(
              items(folder), List.of(folder.resolve("made")), () -> {}, life::open, Instant.now());
          ended = true;
        } catch (SymbolonException e) {
          ended = life.done <= last; // else it died while it tidied up after that
        } catch (Death e) {
          ended = false;
        }
        if (!ended) {
          seen.addAll(left());
          comeBy(folder);
        }
        assertEquals(Set.of(), left(), "at " + last);
        assertEquals(List.of(), locks(), "at " + last);
      }
    }
    seen.add(StepState.ENDED);
    assertEquals(EnumSet.allOf(StepState.class), seen);
    for (StepState state : StepState.values()) {
      assertEquals(state == StepState.ENDED, state.ways().isEmpty(), "a way out of " + state);
    }
    assertThrows(
        IllegalStateException.class, () -> StepState.ENDED.mustLeadTo(StepState.COMMITTED));
  }
}
