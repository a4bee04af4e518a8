// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files that were written and may still be taken back. */
class PendingFilesTest {
  private static final FileTime OLD = FileTime.from(Instant.parse("2026-01-17T00:00:00Z"));

  @TempDir Path temp;
  private Path settings;
  private Path link;
  private Path made;

  @BeforeEach
  void files() throws IOException {
    settings = Files.writeString(temp.resolve("settings"), "old\n");
    Files.setPosixFilePermissions(settings, PosixFilePermissions.fromString("rw-r-----"));
    Files.setLastModifiedTime(settings, OLD);
    link = Files.createDirectory(temp.resolve("enabled")).resolve("site");
    Files.createSymbolicLink(link, settings);
    made = temp.resolve("tls/server.key");
  }

  private PendingFiles write() {
    return FileSet.writePending(
        List.of(
            new FileItem(made, octets("key"), Privacy.OWNER_ONLY, Existing.REPLACE),
            new FileItem(link, octets("new\n"), Privacy.SYSTEM_DEFAULT, Existing.REPLACE)),
        List.of(temp.resolve("tls")));
  }

  private static byte[] octets(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  private List<String> everything() throws IOException {
    try (Stream<Path> all = Files.walk(temp)) {
      return all.map(path -> temp.relativize(path).toString()).sorted().toList();
    }
  }

  @Test
  void takenBackNothingWasEverThere() throws IOException {
    List<String> before = everything();
    try (PendingFiles pending = write()) {
      assertEquals("new\n", Files.readString(settings));
      assertEquals("key", Files.readString(made));
      assertEquals(List.of(), pending.takeBack());
    }
    assertEquals(before, everything());
    assertEquals("old\n", Files.readString(settings));
    assertEquals(OLD, Files.getLastModifiedTime(settings));
    assertEquals(
        "rw-r-----", PosixFilePermissions.toString(Files.getPosixFilePermissions(settings)));
    assertTrue(Files.isSymbolicLink(link));
  }

  @Test
  void keptTheyCanBeUndone() throws IOException {
    write().close();
    assertEquals("new\n", Files.readString(link));
    assertFalse(everything().stream().anyMatch(name -> name.contains("stage")));
    Undo.bringBack(Undo.replacements(temp).get(0));
    assertEquals("old\n", Files.readString(settings));
  }

  @Test
  void whatSomebodyElseHasChangedSinceIsLeftToThem() throws IOException {
    try (PendingFiles pending = write()) {
      Files.writeString(settings, "theirs\n");
      assertEquals(List.of(settings.toRealPath()), pending.takeBack());
    }
    assertEquals("theirs\n", Files.readString(settings));
    assertFalse(Files.exists(made));
  }
}
