package io.symbolon.file;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermission;
import java.time.Instant;
import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Writes files so that a crash at any moment leaves the old file or the new one, whole.
 *
 * <p>The content goes to a temporary file in the same folder, is flushed to disk, and takes its
 * name in one step: by a hard link where the name must be free (a link fails where a rename would
 * replace), by a rename where an older file is replaced. Before that the older file is put aside
 * for {@link Undo}. A file for its owner alone is so from its creation; there is no moment at which
 * another user could open it.
 */
public final class SafeFile {
  private static final Logger LOG = LoggerFactory.getLogger(SafeFile.class);

  private SafeFile() {}

  /**
   * Checks that {@link #write} could succeed, before work is done that would be lost.
   *
   * @throws SymbolonException if the folder is missing, the target is a folder, or it exists and
   *     must be kept
   */
  public static void check(Path target, Existing existing) {
    Path folder = folderOf(target);
    if (!Files.isDirectory(folder)) {
      throw refused(
          Reason.NOT_WRITABLE,
          target,
          "The folder " + shown(folder) + " does not exist.",
          "Make the folder first, or write somewhere else.");
    }
    if (Files.isDirectory(target)) {
      throw refused(
          Reason.NOT_WRITABLE,
          target,
          "It is a folder.",
          "Name a file in it, such as " + shown(target.resolve("keystore.p12")) + ".");
    }
    if (existing == Existing.KEEP && Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
      throw exists(target);
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
    return write(target, content, privacy, existing, Undo.now());
  }

  /** The same at the moment of a command that writes several files. */
  static Optional<Path> write(
      Path target, byte[] content, Privacy privacy, Existing existing, Instant when) {
    check(target, existing);
    // A link keeps being a link: what it points to is what is replaced.
    Path real = existing == Existing.REPLACE ? followed(target) : target;
    Path temporary = null;
    try {
      temporary = temporary(folderOf(real), privacy);
      flush(temporary, content);
      Optional<Path> aside = Optional.empty();
      if (existing == Existing.REPLACE && Files.exists(real, LinkOption.NOFOLLOW_LINKS)) {
        keepRights(real, temporary, privacy);
        aside = Optional.of(Undo.putAside(real, when));
        Files.move(
            temporary, real, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
      } else {
        takeFreeName(temporary, real);
      }
      flushFolder(folderOf(real));
      LOG.debug("wrote {} octets to {}", content.length, real);
      return aside;
    } catch (FileAlreadyExistsException e) {
      throw exists(target);
    } catch (IOException e) {
      throw refused(
          Reason.NOT_WRITABLE,
          target,
          "The system says: " + message(e) + ".",
          "Check the rights and the free space of the folder.");
    } finally {
      if (temporary != null) {
        deleteQuietly(temporary);
      }
    }
  }

  private static Path followed(Path target) {
    try {
      return Files.isSymbolicLink(target) ? target.toRealPath() : target;
    } catch (IOException e) {
      return target; // a link to nowhere is replaced itself
    }
  }

  private static Path temporary(Path folder, Privacy privacy) throws IOException {
    // createTempFile gives the file to its owner alone on every system; public files are opened up.
    Path file = Files.createTempFile(folder, ".symbolon-", ".new");
    if (privacy == Privacy.SYSTEM_DEFAULT && isPosix(file)) {
      Files.setPosixFilePermissions(file, PublicMode.permissions());
    }
    return file;
  }

  private static void flush(Path file, byte[] content) throws IOException {
    try (FileChannel channel =
        FileChannel.open(file, StandardOpenOption.WRITE, StandardOpenOption.TRUNCATE_EXISTING)) {
      ByteBuffer buffer = ByteBuffer.wrap(content);
      while (buffer.hasRemaining()) {
        channel.write(buffer);
      }
      channel.force(true);
    }
  }

  private static void takeFreeName(Path temporary, Path target) throws IOException {
    try {
      Files.createLink(target, temporary);
    } catch (UnsupportedOperationException | java.nio.file.FileSystemException e) {
      if (e instanceof FileAlreadyExistsException exists) {
        throw exists;
      }
      // No hard links on this file system: a rename, which the check above makes safe but for a
      // race.
      if (Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
        throw new FileAlreadyExistsException(target.toString());
      }
      Files.move(temporary, target, StandardCopyOption.ATOMIC_MOVE);
    }
  }

  /**
   * Gives the new file the owner, the group and the rights of the one it replaces, so that a server
   * that could read the old one can read the new. Others never get a right to a private file.
   */
  private static void keepRights(Path from, Path to, Privacy privacy) throws IOException {
    if (!isPosix(from)) {
      return;
    }
    PosixFileAttributes old = Files.readAttributes(from, PosixFileAttributes.class);
    PosixFileAttributeView view = Files.getFileAttributeView(to, PosixFileAttributeView.class);
    Set<PosixFilePermission> rights = EnumSet.noneOf(PosixFilePermission.class);
    rights.addAll(old.permissions());
    if (privacy == Privacy.OWNER_ONLY) {
      rights.removeIf(right -> right.name().startsWith("OTHERS_"));
    }
    try {
      view.setGroup(old.group());
      view.setOwner(old.owner());
    } catch (IOException e) {
      // Only root may give a file away: then the old group's rights are for nobody else.
      LOG.debug("the owner or group of {} could not be kept", from, e);
      if (!view.readAttributes().group().equals(old.group())) {
        rights.removeIf(right -> right.name().startsWith("GROUP_"));
      }
    }
    view.setPermissions(rights);
  }

  static void flushFolder(Path folder) {
    try (FileChannel channel = FileChannel.open(folder, StandardOpenOption.READ)) {
      channel.force(true);
    } catch (IOException e) {
      LOG.debug("the folder {} can't be flushed on this system", folder, e);
    }
  }

  private static void deleteQuietly(Path file) {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      LOG.warn("the temporary file {} could not be removed", file, e);
    }
  }

  static boolean isPosix(Path file) {
    return file.getFileSystem().supportedFileAttributeViews().contains("posix");
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

  private static SymbolonException exists(Path target) {
    return refused(
        Reason.EXISTS,
        target,
        "There is a file of that name already.",
        "Choose another name, or say --replace; the old file can then be brought back with undo.");
  }

  static SymbolonException refused(Reason reason, Path target, String seen, String remedy) {
    return new SymbolonException(
        reason, "The file " + shown(target) + " was not written.", seen, remedy);
  }
}
