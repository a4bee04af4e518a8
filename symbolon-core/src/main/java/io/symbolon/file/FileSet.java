package io.symbolon.file;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Writes several files that belong together: all of them or none. */
public final class FileSet {
  private static final Logger LOG = LoggerFactory.getLogger(FileSet.class);

  private FileSet() {}

  /**
   * A file to write.
   *
   * @param target where to
   * @param content what; not copied
   * @param privacy who may read it
   * @param existing what to do about a file that is there
   */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  public record Item(Path target, byte[] content, Privacy privacy, Existing existing) {}

  /**
   * Writes the files in their order. Where one can't be written, those before it are taken back: a
   * new one is deleted, a replaced one gets its old content again.
   *
   * @return for each file where an older one was put aside, if there was one
   * @throws SymbolonException if a file can't be written; then nothing has changed
   */
  public static List<Optional<Path>> write(List<Item> items) {
    items.forEach(item -> SafeFile.check(item.target(), item.existing()));
    List<Optional<Path>> asides = new ArrayList<>();
    Instant when = Undo.now();
    try {
      for (Item item : items) {
        asides.add(
            SafeFile.write(item.target(), item.content(), item.privacy(), item.existing(), when));
      }
      return asides;
    } catch (SymbolonException e) {
      for (int i = asides.size() - 1; i >= 0; i--) {
        takeBack(items.get(i).target(), asides.get(i));
      }
      throw e;
    }
  }

  private static void takeBack(Path target, Optional<Path> aside) {
    try {
      if (aside.isPresent()) {
        Undo.bringBack(new Undo.Version(target, aside.get(), Instant.EPOCH));
      } else {
        Files.deleteIfExists(target);
      }
    } catch (IOException | SymbolonException e) {
      LOG.warn("{} could not be taken back", target, e);
    }
  }

  /**
   * Makes a folder for files, if there is none.
   *
   * @return whether it was made
   * @throws SymbolonException if it can't be made
   */
  public static boolean makeFolder(Path folder) {
    if (Files.isDirectory(folder)) {
      return false;
    }
    try {
      Files.createDirectory(folder);
      return true;
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The folder " + SafeFile.shown(folder) + " was not made.",
          "The system says: " + SafeFile.message(e) + ".",
          "Check the name, and that the folder around it exists and lets you write.",
          e);
    }
  }
}
