// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.NotAFileException;
import io.symbolon.file.SafeRead;
import io.symbolon.file.Snapshot;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;

/**
 * Files as they are, or as they would be after a change: what is read through it is judged before
 * anything is written.
 */
public final class FileView {
  private final Map<Path, byte[]> changed;

  private FileView(Map<Path, byte[]> changed) {
    this.changed = changed;
  }

  /** {@return the files as they are} */
  public static FileView disk() {
    return new FileView(Map.of());
  }

  /** {@return the files as they would be with these changes} */
  public FileView with(Collection<FileChange> changes) {
    Map<Path, byte[]> all = new HashMap<>(changed);
    changes.forEach(change -> all.put(key(change.path()), change.after()));
    return new FileView(all);
  }

  /**
   * A file that was read.
   *
   * @param octets its content
   * @param snapshot what tells that it is still the same; nothing where it is not on a disk
   */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  public record ReadFile(byte[] octets, Optional<Snapshot> snapshot) {}

  /**
   * {@return a file; nothing if there is none}
   *
   * @param file the file; links are followed
   * @throws SymbolonException if it can't be read, or is larger than what is read
   */
  public Optional<ReadFile> read(Path file) {
    return read(file, Limits.SETTINGS_BYTES);
  }

  /**
   * {@return a file; nothing if there is none}
   *
   * @param file the file; links are followed
   * @param most the most octets that it may have
   * @throws SymbolonException if it can't be read, or is larger than that
   */
  public Optional<ReadFile> read(Path file, int most) {
    byte[] known = changed.get(key(file));
    if (known != null) {
      return Optional.of(new ReadFile(known, Optional.empty()));
    }
    try {
      Optional<Snapshot> snapshot = Snapshot.of(file);
      if (snapshot.isEmpty()) {
        return Optional.empty();
      }
      SafeRead.Content content = SafeRead.named(file, most, 0);
      if (!content.whole()) {
        throw new SymbolonException(
            Reason.LIMIT_PASSED,
            "The file " + VisibleText.of(file.toString()) + " can't be read.",
            "It has " + content.size() + " octets; the limit is " + most + ".",
            "Check whether it is the file that is meant.");
      }
      return Optional.of(new ReadFile(content.octets(), snapshot));
    } catch (NoSuchFileException e) {
      return Optional.empty();
    } catch (IOException e) {
      String said =
          e instanceof NotAFileException notOne
              ? "It is " + notOne.what() + "."
              : "The system says: "
                  + e.getClass().getSimpleName().replace("Exception", "")
                  + ": "
                  + VisibleText.of(String.valueOf(e.getMessage()))
                  + ".";
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The file " + VisibleText.of(file.toString()) + " can't be read.",
          said,
          "Run the command as root, or as the account of the server.",
          e);
    }
  }

  /** {@return whether there is a file or folder of that name} */
  public boolean exists(Path path) {
    return changed.containsKey(key(path)) || Files.exists(path);
  }

  /** {@return what lies in a folder, by name; nothing if there is no such folder} */
  public List<Path> list(Path folder) {
    TreeSet<Path> all = new TreeSet<>();
    try (DirectoryStream<Path> stream = Files.newDirectoryStream(folder)) {
      for (Path path : stream) {
        all.add(path);
        if (all.size() > Limits.SETTINGS_FILES) {
          throw new SymbolonException(
              Reason.LIMIT_PASSED,
              "The folder " + VisibleText.of(folder.toString()) + " was not read.",
              "It holds more than " + Limits.SETTINGS_FILES + " files.",
              "Check whether it is the folder that is meant.");
        }
      }
    } catch (NoSuchFileException | NotDirectoryException e) {
      // what is to be made may be all that there is
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The folder " + VisibleText.of(folder.toString()) + " can't be read.",
          "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
          "Run the command as root, or as the account of the server.",
          e);
    }
    for (Path path : changed.keySet()) {
      if (folder.toAbsolutePath().normalize().equals(path.getParent())) {
        all.add(folder.resolve(String.valueOf(path.getFileName())));
      }
    }
    return new ArrayList<>(all);
  }

  /** A file has one name here, also where it is reached by a link. */
  private static Path key(Path file) {
    try {
      if (Files.exists(file, LinkOption.NOFOLLOW_LINKS)) {
        return file.toRealPath();
      }
      Path absolute = file.toAbsolutePath().normalize();
      Path folder = absolute.getParent();
      Path name = absolute.getFileName();
      return folder != null && name != null && Files.exists(folder)
          ? folder.toRealPath().resolve(name)
          : absolute;
    } catch (IOException e) {
      return file.toAbsolutePath().normalize();
    }
  }
}
