// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.LinkOption;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Set;

/**
 * A folder that was opened once. What is done in it is done in this very folder, whatever its name
 * leads to by then, and no link in it is followed: somebody who can rename things on the way to it
 * cannot turn our work to another place.
 *
 * <p>Where the system has no handles for folders (Windows), {@link PathFolder} does the same by
 * name; docs/security.md says what is promised there.
 */
abstract class OpenFolder implements Closeable {
  private final Path path;

  OpenFolder(Path path) {
    this.path = path;
  }

  /** How folders are opened; tests count and interrupt what is done in them. */
  @FunctionalInterface
  interface Opener {
    OpenFolder open(Path folder) throws IOException;
  }

  /** Where it was found, with no link on the way. */
  final Path path() {
    return path;
  }

  /** A new file for its owner alone, open for writing. */
  final FileChannel create(Path name) throws IOException {
    return open(
        name,
        Set.of(StandardOpenOption.WRITE, StandardOpenOption.CREATE_NEW, LinkOption.NOFOLLOW_LINKS));
  }

  /** A file, open for reading; no link. */
  abstract FileChannel read(Path name) throws IOException;

  /** A file that is made if it is not there, for its owner alone, open for writing; no link. */
  final FileChannel createOrOpen(Path name) throws IOException {
    return open(
        name,
        Set.of(StandardOpenOption.WRITE, StandardOpenOption.CREATE, LinkOption.NOFOLLOW_LINKS));
  }

  /** A file that is opened with these options; one that is made is for its owner alone. */
  abstract FileChannel open(Path name, Set<OpenOption> options) throws IOException;

  /** Attributes of what bears the name, of a link itself. */
  abstract BasicFileAttributes attributes(Path name) throws IOException;

  /** Attributes of the folder itself. */
  abstract BasicFileAttributes attributes() throws IOException;

  /** Owner, group and mode, or access list, of what bears the name. */
  abstract Rights rights(Path name) throws IOException;

  /** The same of the folder itself. */
  abstract Rights rights() throws IOException;

  /** Gives a file its rights; only for files in a folder that nobody else can change. */
  abstract void give(Path name, Rights rights) throws IOException;

  /** Sets when a file was last changed. */
  abstract void touch(Path name, FileTime when) throws IOException;

  /** Gives a file or folder another place and name in one step, replacing a file that bears it. */
  abstract void rename(Path name, OpenFolder to, Path newName) throws IOException;

  /** Deletes a file or a link. */
  abstract void delete(Path name) throws IOException;

  /** Deletes an empty folder. */
  abstract void deleteFolder(Path name) throws IOException;

  /** Opens a folder in it; no link. */
  abstract OpenFolder enter(Path name) throws IOException;

  /**
   * Makes a folder in it that is this account's alone, and opens it.
   *
   * @throws IOException if what bears the name afterwards is not that folder
   */
  abstract OpenFolder make(Path name) throws IOException;

  /** The names in it. */
  abstract List<Path> names() throws IOException;

  /** Writes the names to the disk, where the system can be told to. */
  abstract void flush() throws IOException;

  @Override
  public abstract void close() throws IOException;

  /** A name in this folder's file system. */
  final Path name(String text) {
    return path.getFileSystem().getPath(text);
  }

  /** Whether something bears the name. */
  final boolean has(Path name) throws IOException {
    try {
      attributes(name);
      return true;
    } catch (java.nio.file.NoSuchFileException e) {
      return false;
    }
  }

  /** Which folder it is. */
  final FileId id() throws IOException {
    return FileId.of(attributes());
  }

  /** Which file or folder bears the name; nothing if none does. */
  final java.util.Optional<FileId> id(Path name) throws IOException {
    try {
      return java.util.Optional.of(FileId.of(attributes(name)));
    } catch (java.nio.file.NoSuchFileException e) {
      return java.util.Optional.empty();
    }
  }

  /** Deletes a file, if one bears the name. */
  final void deleteIfThere(Path name) throws IOException {
    try {
      delete(name);
    } catch (java.nio.file.NoSuchFileException e) {
      // it never came so far
    }
  }
}
