// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What tells that a file is still the one that was read: its number in the file system, its size
 * and when it was last changed.
 *
 * @param number the number of the file in its file system; empty where it has none
 * @param size in octets
 * @param changed when it was last changed
 */
public record Snapshot(String number, long size, Instant changed) {
  // The number of the device is left out: it may be another one after the machine was restarted.
  private static final Pattern NUMBER = Pattern.compile("ino=(\\d+)");

  static Snapshot of(BasicFileAttributes attributes) {
    return new Snapshot(
        number(attributes), attributes.size(), attributes.lastModifiedTime().toInstant());
  }

  /**
   * {@return the snapshot of a file that is about to be read; nothing if there is none of that
   * name}
   *
   * @param file the file; a link is followed
   * @throws SymbolonException if the system does not tell
   */
  public static Optional<Snapshot> of(Path file) {
    try {
      return Optional.of(of(Files.readAttributes(file, BasicFileAttributes.class)));
    } catch (NoSuchFileException e) {
      return Optional.empty();
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The file " + NotWritten.shown(file) + " can't be read.",
          "The system says: " + NotWritten.message(e) + ".",
          "Check the name and the rights of the file.",
          e);
    }
  }

  static Optional<Snapshot> of(OpenFolder folder, Path name) throws IOException {
    try {
      return Optional.of(of(folder.attributes(name)));
    } catch (NoSuchFileException e) {
      return Optional.empty();
    }
  }

  /** The number of a file or folder in its file system; empty where it has none. */
  static String number(BasicFileAttributes attributes) {
    Matcher matcher = NUMBER.matcher(String.valueOf(attributes.fileKey()));
    return matcher.find() ? matcher.group(1) : "";
  }

  /** One word, for the journal. */
  String toWord() {
    return number + "," + size + "," + changed;
  }

  static Snapshot parse(String word) {
    String[] parts = word.split(",", -1);
    return new Snapshot(parts[0], Long.parseLong(parts[1]), Instant.parse(parts[2]));
  }
}
