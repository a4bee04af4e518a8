// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SafeFileTest {
  private static final byte[] OLD = {1, 2, 3};
  private static final byte[] NEW = {4, 5, 6, 7};

  @TempDir Path folder;

  private static String rights(Path file) throws IOException {
    return PosixFilePermissions.toString(Files.getPosixFilePermissions(file));
  }

  private List<String> names() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.map(f -> f.getFileName().toString()).sorted().toList();
    }
  }

  @Test
  void aPrivateFileIsItsOwnersAloneAndAPublicOneIsNot() throws IOException {
    Path secret = folder.resolve("key.p12");
    Path open = folder.resolve("trust.p12");
    SafeFile.write(secret, NEW, Privacy.OWNER_ONLY, Existing.KEEP);
    SafeFile.write(open, NEW, Privacy.SYSTEM_DEFAULT, Existing.KEEP);
    assertEquals("rw-------", rights(secret));
    Path ordinary = Files.createFile(folder.resolve("ordinary"));
    assertEquals(rights(ordinary), rights(open));
    assertArrayEquals(NEW, Files.readAllBytes(secret));
    assertEquals(List.of("key.p12", "ordinary", "trust.p12"), names());
  }

  @Test
  void anExistingFileIsKeptAndNothingIsLeftBehind() throws IOException {
    Path target = Files.write(folder.resolve("x"), OLD);
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> SafeFile.write(target, NEW, Privacy.OWNER_ONLY, Existing.KEEP));
    assertEquals(Reason.EXISTS, e.reason());
    assertArrayEquals(OLD, Files.readAllBytes(target));
    assertEquals(List.of("x"), names());
  }

  @Test
  void oneOfManyWritersWinsANewName() throws Exception {
    assertEquals(1, winners(folder.resolve("x"), 40));
    assertEquals(List.of("x"), names());
  }

  @Test
  void theFirstCommandsOfAnAccountMayComeAllAtOnce() throws Exception {
    String usual = System.getProperty(StateFolder.PROPERTY, "");
    try {
      for (int i = 0; i < 40; i++) { // each time a state folder that nobody has made yet
        System.setProperty(StateFolder.PROPERTY, folder.resolve("state" + i).toString());
        assertEquals(1, winners(folder.resolve("x" + i), 8));
      }
    } finally {
      System.setProperty(StateFolder.PROPERTY, usual);
    }
  }

  private static int winners(Path target, int count) throws Exception {
    ExecutorService threads = Executors.newFixedThreadPool(8);
    CountDownLatch all = new CountDownLatch(8);
    try {
      List<Callable<Boolean>> writers =
          IntStream.range(0, count)
              .<Callable<Boolean>>mapToObj(
                  i ->
                      () -> {
                        all.countDown();
                        all.await();
                        try {
                          SafeFile.write(
                              target, new byte[] {(byte) i}, Privacy.OWNER_ONLY, Existing.KEEP);
                          return true;
                        } catch (SymbolonException e) {
                          assertEquals(Reason.EXISTS, e.reason(), e::getMessage);
                          return false;
                        }
                      })
              .toList();
      int won = 0;
      for (Future<Boolean> writer : threads.invokeAll(writers)) {
        won += writer.get() ? 1 : 0;
      }
      return won;
    } finally {
      threads.shutdownNow();
    }
  }

  @Test
  void whatIsReplacedCanBeBroughtBackAndTheUndoingUndone() throws IOException {
    Path target = Files.write(folder.resolve("x"), OLD);
    Path aside = SafeFile.write(target, NEW, Privacy.OWNER_ONLY, Existing.REPLACE).orElseThrow();
    assertArrayEquals(OLD, Files.readAllBytes(aside));
    assertEquals("rwx------", rights(java.util.Objects.requireNonNull(aside.getParent())));
    assertEquals(List.of("x"), names());
    assertArrayEquals(NEW, Files.readAllBytes(target));

    Undo.bringBack(Undo.versions(target).get(0));
    assertArrayEquals(OLD, Files.readAllBytes(target));
    Undo.bringBack(Undo.versions(target).get(0));
    assertArrayEquals(NEW, Files.readAllBytes(target));
    assertEquals(1, Undo.versions(folder).size());
    assertTrue(Undo.versions(folder.resolve("other")).isEmpty());
  }

  @Test
  void aGroupThatAloneCouldReadTheOldFileReadsTheNewOneAndNobodyGetsMore() throws IOException {
    Path target = Files.write(folder.resolve("x"), OLD);
    Map<String, String> modes =
        Map.of(
            "rw-r-----", "rw-r-----",
            "rw-rw----", "rw-r-----",
            "rwxrwx---", "rwxr-----",
            "rw-rw-rw-", "rw-------",
            "rw-r--r--", "rw-------",
            "r--------", "r--------");
    for (Map.Entry<String, String> mode : modes.entrySet()) {
      Files.setPosixFilePermissions(target, PosixFilePermissions.fromString(mode.getKey()));
      WrittenItem written =
          FileSet.write(List.of(new FileItem(target, NEW, Privacy.OWNER_ONLY, Existing.REPLACE)))
              .get(0);
      assertEquals(mode.getValue(), rights(target), mode.getKey());
      assertEquals(
          mode.getValue().startsWith("r", 3) ? Access.Readers.GROUP : Access.Readers.OWNER,
          written.access().readers());
      assertEquals(
          mode.getKey().endsWith("r--") || mode.getKey().endsWith("rw-"),
          written.access().lost().isPresent());
    }
    Files.setPosixFilePermissions(target, PosixFilePermissions.fromString("rw-r--r--"));
    SafeFile.write(target, NEW, Privacy.SYSTEM_DEFAULT, Existing.REPLACE);
    assertEquals("rw-r--r--", rights(target));
  }

  @Test
  void manyReplacementsAreAllKeptTheLatestFirst() throws IOException {
    Path target = folder.resolve("x");
    for (int i = 0; i < 20; i++) {
      SafeFile.write(
          target,
          new byte[] {(byte) i},
          Privacy.OWNER_ONLY,
          i == 0 ? Existing.KEEP : Existing.REPLACE);
    }
    List<Undo.Version> versions = Undo.versions(target);
    assertEquals(19, versions.size());
    assertEquals(18, Files.readAllBytes(versions.get(0).kept())[0]);
    assertEquals(0, Files.readAllBytes(versions.get(18).kept())[0]);
  }

  @Test
  void replacingThroughALinkReplacesWhatItPointsTo() throws IOException {
    Path real = Files.write(folder.resolve("real"), OLD);
    Path link = Files.createSymbolicLink(folder.resolve("link"), real);
    SafeFile.write(link, NEW, Privacy.OWNER_ONLY, Existing.REPLACE);
    assertTrue(Files.isSymbolicLink(link));
    assertArrayEquals(NEW, Files.readAllBytes(real));
  }

  @Test
  void aMissingFolderAndAFolderAsTargetAreRefused() {
    SymbolonException missing =
        assertThrows(
            SymbolonException.class,
            () ->
                SafeFile.write(folder.resolve("no/x"), NEW, Privacy.OWNER_ONLY, Existing.REPLACE));
    assertEquals(Reason.NOT_WRITABLE, missing.reason());
    assertTrue(missing.seen().contains("does not exist"), missing.seen());
    assertThrows(
        SymbolonException.class,
        () -> SafeFile.write(folder, NEW, Privacy.OWNER_ONLY, Existing.REPLACE));
    assertFalse(Files.exists(folder.resolve("no")));
  }
}
