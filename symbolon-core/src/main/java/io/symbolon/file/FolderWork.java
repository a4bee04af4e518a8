// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Collection;
import java.util.List;
import java.util.function.Supplier;

/** Work in folders that nobody else changes meanwhile. */
public final class FolderWork {
  private static final int TRIES = 20; // for commands that die while we come

  private FolderWork() {}

  /**
   * Does something while nobody else changes these files: neither another process nor another
   * thread. What an interrupted command has left in their folders is tidied up first.
   *
   * @param <T> the type of the result
   * @param files the files; a folder that is not there yet is passed over
   * @param work what to do
   * @return what it gives
   * @throws SymbolonException if somebody else does not let go of a folder, or it can't be written
   *     to
   */
  @SuppressWarnings("try") // holding it is all that is done with it
  public static <T> T holding(Collection<Path> files, Supplier<T> work) {
    try (Folders folders = Folders.of(files);
        FolderLock lock = tidied(folders.all(), FolderOpening::open)) {
      return work.get();
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was written.",
          "The system says: " + NotWritten.message(e) + ".",
          "Check the folder and its rights.",
          e);
    }
  }

  /** Takes folders in which no step of a dead process is left. */
  static FolderLock tidied(List<OpenFolder> folders, OpenFolder.Opener opener) throws IOException {
    for (int i = 1; ; i++) {
      boolean alone = FolderLock.isFirst();
      Recovery.sweep(folders, opener, alone ? FolderLock.WAIT : Duration.ZERO);
      FolderLock lock = FolderLock.hold(folders);
      boolean tidy = false;
      try {
        tidy = !alone || i == TRIES || !Recovery.isNeeded(folders);
        if (tidy) {
          return lock;
        }
      } finally {
        if (!tidy) {
          lock.close();
        }
      }
    }
  }
}
