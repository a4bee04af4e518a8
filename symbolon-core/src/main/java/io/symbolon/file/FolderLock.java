// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.AccessDeniedException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Keeps everybody else who works with Symbolon out of folders while something in them is read,
 * changed and replaced: other processes by a lock on a file, other threads by a lock of this
 * process, which is taken first. The system lets go of a process's lock when it dies, however it
 * dies.
 *
 * <p>A system's lock on a file belongs to the whole process and is lost when any channel to that
 * file is closed. So only the thread that holds this process's lock ever opens the file, and
 * whoever gives up waiting closes nothing that somebody else relies on.
 *
 * <p>The file goes away with the lock. Who has locked it looks whether its name still means the
 * file that it meant before it was opened. Nothing is ever written into it: somebody else may have
 * given that name to another file. A thread that holds a folder may take it again.
 */
public final class FolderLock implements Closeable {
  static final String NAME = ".symbolon-lock";

  private static final Duration WAIT = Duration.ofMinutes(5);
  private static final int PAUSE = 20; // milliseconds
  private static final Map<Object, Gate> GATES = new ConcurrentHashMap<>();

  private final Deque<Gate> held = new ArrayDeque<>();

  private FolderLock() {}

  /** What a folder's threads wait at. */
  private static final class Gate {
    final Object key;
    final ReentrantLock lock = new ReentrantLock(true);
    int users;
    @Nullable FileChannel channel;
    @Nullable OpenFolder folder;

    Gate(Object key) {
      this.key = key;
    }
  }

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
        FolderLock lock = hold(folders.all())) {
      for (OpenFolder folder : folders.all()) {
        Recovery.tidy(folder, OpenFolder::open);
      }
      return work.get();
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was written.",
          "The system says: " + SafeFile.message(e) + ".",
          "Check the folder and its rights.",
          e);
    }
  }

  /**
   * Takes folders, always in the same order, so that two who want the same never wait in a ring.
   */
  static FolderLock hold(Collection<OpenFolder> folders) throws IOException {
    return hold(folders, WAIT);
  }

  /** The same with another time after which it gives up. */
  static FolderLock hold(Collection<OpenFolder> folders, Duration wait) throws IOException {
    TreeMap<String, OpenFolder> ordered = new TreeMap<>();
    for (OpenFolder folder : folders) {
      ordered.putIfAbsent(folder.path().toString(), folder);
    }
    FolderLock lock = new FolderLock();
    boolean all = false;
    try {
      for (OpenFolder folder : ordered.values()) {
        lock.take(folder, wait);
      }
      all = true;
      return lock;
    } finally {
      if (!all) {
        lock.close();
      }
    }
  }

  private void take(OpenFolder folder, Duration wait) throws IOException {
    Object number = folder.attributes().fileKey();
    Object key = number == null ? folder.path() : number;
    Gate gate =
        GATES.compute(
            key,
            (same, present) -> {
              Gate one = present == null ? new Gate(same) : present;
              one.users++;
              return one;
            });
    long deadline = System.nanoTime() + wait.toNanos();
    boolean taken = false;
    try {
      if (!gate.lock.tryLock(wait.toNanos(), TimeUnit.NANOSECONDS)) {
        throw inUse(folder);
      }
      if (gate.lock.getHoldCount() == 1) {
        try {
          gate.channel = lockFile(folder, deadline);
          gate.folder = folder;
        } finally {
          if (gate.folder == null) {
            gate.lock.unlock();
          }
        }
      }
      held.push(gate);
      taken = true;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was written.",
          "The work was interrupted while it waited for the folder "
              + SafeFile.shown(folder.path())
              + ".",
          "Try again.",
          e);
    } finally {
      if (!taken) {
        leave(gate);
      }
    }
  }

  private static void leave(Gate gate) {
    GATES.computeIfPresent(gate.key, (key, one) -> --one.users == 0 ? null : one);
  }

  private static FileChannel lockFile(OpenFolder folder, long deadline)
      throws IOException, InterruptedException {
    Path name = folder.name(NAME);
    while (true) {
      Optional<String> before = number(folder, name);
      FileChannel channel = open(folder, name);
      if (channel != null) {
        boolean mine = false;
        try {
          mine =
              lock(channel)
                  && (folder instanceof PathFolder // such systems keep the name of an open file
                      || (before.isPresent() && before.equals(number(folder, name))));
          if (mine) {
            return channel;
          }
        } finally {
          if (!mine) {
            channel.close();
          }
        }
      }
      if (System.nanoTime() > deadline) {
        throw inUse(folder);
      }
      if (before.isPresent()) {
        Thread.sleep(PAUSE); // a file that was only just made is looked at again at once
      }
    }
  }

  private static Optional<String> number(OpenFolder folder, Path name) throws IOException {
    return Snapshot.of(folder, name).map(Snapshot::number);
  }

  /** The lock file; nothing while it is another account's. */
  private static @Nullable FileChannel open(OpenFolder folder, Path name) throws IOException {
    try {
      if (isSomethingElse(folder, name)) {
        throw new SymbolonException(
            Reason.NOT_WRITABLE,
            "Nothing was written.",
            SafeFile.shown(folder.path().resolve(name))
                + " keeps other commands out, and it is not an ordinary file.",
            "Find out who put it there, and remove it.");
      }
      return folder.createOrOpen(name);
    } catch (AccessDeniedException e) {
      if (!folder.has(name)) {
        throw e; // the folder itself can't be written to
      }
      return null;
    }
  }

  /** Whether no ordinary file has the name; who held the folder may take it away meanwhile. */
  private static boolean isSomethingElse(OpenFolder folder, Path name) throws IOException {
    try {
      return folder.has(name) && !folder.attributes(name).isRegularFile();
    } catch (NoSuchFileException e) {
      return false;
    }
  }

  private static boolean lock(FileChannel channel) throws IOException {
    try {
      FileLock lock = channel.tryLock();
      return lock != null;
    } catch (OverlappingFileLockException e) {
      return false; // another copy of this library in the same process
    }
  }

  private static SymbolonException inUse(OpenFolder folder) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "Nothing was written.",
        "Another command has been working in the folder "
            + SafeFile.shown(folder.path())
            + " for "
            + WAIT.toMinutes()
            + " minutes.",
        "Wait until it has ended, and try again. If none is running, remove "
            + SafeFile.shown(folder.path().resolve(NAME))
            + ".");
  }

  @Override
  public void close() throws IOException {
    // Every folder is let go of, whatever happens at one of them.
    if (held.isEmpty()) {
      return;
    }
    Gate gate = held.pop();
    try {
      if (gate.lock.getHoldCount() == 1) {
        release(gate);
      }
    } finally {
      gate.lock.unlock();
      leave(gate);
      close();
    }
  }

  private static void release(Gate gate) throws IOException {
    FileChannel channel = gate.channel;
    OpenFolder folder = gate.folder;
    gate.channel = null;
    gate.folder = null;
    if (channel == null || folder == null) {
      return;
    }
    try (channel) {
      if (!(folder instanceof PathFolder)) {
        deleteName(folder);
      }
    }
    if (folder instanceof PathFolder) {
      deleteName(folder);
    }
  }

  private static void deleteName(OpenFolder folder) {
    try {
      folder.delete(folder.name(NAME));
    } catch (IOException e) {
      // Somebody else waits with it open, or has removed it: the next one removes it.
    }
  }
}
