// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Writes a file so that a crash at any moment leaves the old file or the new one, whole, and so
 * that nobody who can change names around it can turn the work to another file. {@link FileSet}
 * does it for several files at once and says how.
 */
public final class SafeFile {
  private SafeFile() {}

  /**
   * Checks that {@link #write} could succeed, before work is done that would be lost.
   *
   * @param existing what to do about a file that is there
   * @throws SymbolonException if the folder is missing, the target is a folder or no ordinary file,
   *     or it exists and must be kept
   */
  public static void check(Path target, Existing existing) {
    Path folder = TargetName.folder(target);
    if (!Files.isDirectory(folder)) {
      throw NotWritten.noFolder(target, folder);
    }
    if (Files.isDirectory(target)) {
      throw NotWritten.isFolder(target);
    }
    if (existing == Existing.KEEP && Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
      throw NotWritten.exists(target);
    }
    if (Files.exists(target) && !Files.isRegularFile(target)) {
      throw NotWritten.refused(
          Reason.NOT_WRITABLE,
          target,
          "This is a device, a pipe or a socket, not a file.",
          "Choose another name; only ordinary files are replaced.");
    }
    if (!Files.isWritable(folder)) {
      throw NotWritten.refused(
          Reason.NOT_WRITABLE,
          target,
          "The folder " + NotWritten.shown(folder) + " does not let you write.",
          "Ask for the right to write there, or write somewhere else.");
    }
  }

  /**
   * Checks as well whether a private file could be put there, before a key is made for it.
   *
   * @param existing what to do about a file that is there
   * @param owner to whom it shall belong
   * @throws SymbolonException if {@link #check} fails, or others can change the folder
   */
  public static void checkPrivate(Path target, Existing existing, Optional<Owner> owner) {
    check(target, existing);
    try (OpenFolder folder = FolderOpening.open(TargetName.folder(TargetName.whole(target)))) {
      Path name = TargetName.last(TargetName.whole(target));
      Optional<Rights> old =
          existing == Existing.REPLACE
                  && folder.has(name)
                  && folder.attributes(name).isRegularFile()
              ? Optional.of(folder.rights(name))
              : Optional.empty();
      Rights made =
          folder.rights() instanceof Rights.Posix rights
              ? new Rights.Posix(SystemAccounts.us(), rights.group(), java.util.Set.of())
              : folder.rights();
      FolderGuard.checkPrivate(
          folder,
          target,
          ResultRights.of(folder, made, old, Privacy.OWNER_ONLY, owner).rights(),
          old);
    } catch (IOException e) {
      throw WriteFailure.of(e, target);
    }
  }

  /**
   * Writes a file whole or not at all.
   *
   * @param target where to
   * @param content what
   * @param privacy who may read it
   * @param existing what to do about a file that is there
   * @return where an older file was put aside, if there was one
   * @throws SymbolonException if it can't be written; then nothing has changed
   */
  public static Optional<Path> write(
      Path target, byte[] content, Privacy privacy, Existing existing) {
    return FileSet.write(List.of(new FileItem(target, content, privacy, existing))).get(0).aside();
  }

  /**
   * Writes at the end of a file that only grows, such as a register; what stands behind that place
   * is cut off. The caller holds the folder.
   *
   * @param at where the end of what counts is, in octets
   * @param flush whether it is on the disk when this returns
   * @throws IOException if the file is a link, or can't be written
   */
  public static void append(Path file, long at, byte[] content, boolean flush) throws IOException {
    try (OpenFolder folder = FolderOpening.open(TargetName.folder(TargetName.whole(file)));
        FileChannel channel = folder.createOrOpen(TargetName.last(TargetName.whole(file)))) {
      channel.truncate(at);
      channel.position(at);
      ByteBuffer buffer = ByteBuffer.wrap(content);
      while (buffer.hasRemaining()) {
        channel.write(buffer);
      }
      if (flush) {
        channel.force(false);
      }
    }
  }
}
