// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

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
    Path folder = folderOf(target);
    if (!Files.isDirectory(folder)) {
      throw noFolder(target, folder);
    }
    if (Files.isDirectory(target)) {
      throw isFolder(target);
    }
    if (existing == Existing.KEEP && Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
      throw exists(target);
    }
    if (Files.exists(target) && !Files.isRegularFile(target)) {
      throw refused(
          Reason.NOT_WRITABLE,
          target,
          "This is a device, a pipe or a socket, not a file.",
          "Choose another name; only ordinary files are replaced.");
    }
    if (!Files.isWritable(folder)) {
      throw refused(
          Reason.NOT_WRITABLE,
          target,
          "The folder " + shown(folder) + " does not let you write.",
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
    try (OpenFolder folder = OpenFolder.open(folderOf(nameOf(target)))) {
      Path name = lastName(nameOf(target));
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
    return FileSet.write(List.of(new FileSet.Item(target, content, privacy, existing)))
        .get(0)
        .aside();
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
    try (OpenFolder folder = OpenFolder.open(folderOf(nameOf(file)));
        FileChannel channel = folder.createOrOpen(lastName(nameOf(file)))) {
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

  /** A path with nothing behind its last name, such as a slash or a dot. */
  static Path nameOf(Path target) {
    Path absolute = target.toAbsolutePath();
    while (absolute.getFileName() != null
        && absolute.getFileName().toString().equals(".")
        && absolute.getParent() != null) {
      absolute = absolute.getParent();
    }
    return absolute;
  }

  static Path lastName(Path target) {
    Path name = target.getFileName();
    if (name == null || name.toString().isEmpty() || name.toString().equals("..")) {
      throw refused(Reason.NOT_WRITABLE, target, "It names no file.", "Name a file.");
    }
    return name;
  }

  static Path folderOf(Path target) {
    Path parent = target.toAbsolutePath().getParent();
    return parent == null ? target.toAbsolutePath() : parent;
  }

  static String shown(Path path) {
    return VisibleText.of(path.toString());
  }

  static String message(IOException e) {
    String message = e.getMessage();
    String kind = e.getClass().getSimpleName().replace("Exception", "");
    return message == null ? kind : VisibleText.of(kind + ": " + message);
  }

  static SymbolonException noFolder(Path target, Path folder) {
    return refused(
        Reason.NOT_WRITABLE,
        target,
        "The folder " + shown(folder) + " does not exist.",
        "Make the folder first, or write somewhere else.");
  }

  static SymbolonException isFolder(Path target) {
    return refused(
        Reason.NOT_WRITABLE,
        target,
        "It is a folder.",
        "Name a file in it, such as " + shown(target.resolve("keystore.p12")) + ".");
  }

  static SymbolonException exists(Path target) {
    return refused(
        Reason.EXISTS,
        target,
        "There is a file of that name already.",
        Remedy.of(
            "Choose another name, or have it replaced; the old file can then be brought back.",
            Action.again(Input.REPLACE)));
  }

  static SymbolonException refused(Reason reason, Path target, String seen, String advice) {
    return refused(reason, target, seen, Remedy.of(advice), null);
  }

  static SymbolonException refused(Reason reason, Path target, String seen, Remedy remedy) {
    return refused(reason, target, seen, remedy, null);
  }

  static SymbolonException refused(
      Reason reason, Path target, String seen, String advice, @Nullable Throwable cause) {
    return refused(reason, target, seen, Remedy.of(advice), cause);
  }

  static SymbolonException refused(
      Reason reason, Path target, String seen, Remedy remedy, @Nullable Throwable cause) {
    return new SymbolonException(
        reason, "The file " + shown(target) + " was not written.", seen, remedy, cause);
  }
}
