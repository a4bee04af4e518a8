package io.symbolon.issue;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.function.Supplier;

/**
 * Keeps other processes, and other users of the same folder in this one, out while the folder
 * changes. The system lets go of it when a process dies, however it dies.
 */
final class FolderLock {
  private static final String NAME = "lock";
  private static final int TRIES = 3_000;
  private static final int PAUSE = 20; // milliseconds: a minute in all

  private final FileChannel channel;
  private final FileLock lock;

  private FolderLock(FileChannel channel, FileLock lock) {
    this.channel = channel;
    this.lock = lock;
  }

  /** Does something while nobody else works with the folder. */
  static <T> T holding(Path folder, Supplier<T> work) {
    FolderLock lock = take(folder);
    try {
      return work.get();
    } finally {
      lock.close();
    }
  }

  private static FolderLock take(Path folder) {
    try {
      FileChannel channel =
          FileChannel.open(
              folder.resolve(NAME), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
      try {
        return new FolderLock(channel, wait(channel, folder));
      } catch (IOException | RuntimeException e) {
        channel.close();
        throw e;
      }
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The folder of the authority " + shown(folder) + " can't be worked with.",
          "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
          "Run the command as the user whose folder it is.",
          e);
    }
  }

  private static FileLock wait(FileChannel channel, Path folder) throws IOException {
    for (int i = 0; i < TRIES; i++) {
      try {
        FileLock lock = channel.tryLock();
        if (lock != null) {
          return lock;
        }
      } catch (OverlappingFileLockException e) {
        // another thread of this process has it
      }
      try {
        Thread.sleep(PAUSE);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new SymbolonException(
            Reason.NOT_WRITABLE, "The work was interrupted.", "It waited.", "Try again.", e);
      }
    }
    throw new SymbolonException(
        Reason.NOT_WRITABLE,
        "The folder of the authority " + shown(folder) + " is in use.",
        "Another command has been working with it for a minute.",
        "Wait until that has ended, and try again.");
  }

  private static String shown(Path folder) {
    return VisibleText.of(folder.toString());
  }

  private void close() {
    try {
      lock.release();
      channel.close();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }
}
