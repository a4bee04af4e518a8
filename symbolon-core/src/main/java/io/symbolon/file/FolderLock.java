// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.Hex;
import java.io.Closeable;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
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
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Keeps other commands of this account out of folders while something in them is read, changed and
 * replaced: other processes by a lock on a file, other threads by a lock of this process, which is
 * taken first. The system lets go of a process's lock when it dies, however it dies.
 *
 * <p>The files of the locks lie in the state folder, where no other account can make or hold one.
 * Commands of other accounts are not kept out by them: a file that somebody else has changed since
 * it was read is not replaced. A thread that holds a folder may take it again.
 */
public final class FolderLock implements Closeable {
  private static final Logger LOG = LoggerFactory.getLogger(FolderLock.class);
  private static final String LOCKS = "locks";
  private static final String STATE = "state";
  static final Duration WAIT = Duration.ofMinutes(5);
  private static final int PAUSE = 20; // milliseconds
  private static final Map<Path, Gate> GATES = new ConcurrentHashMap<>();
  private static final ThreadLocal<Integer> HELD = ThreadLocal.withInitial(() -> 0);

  private final Deque<Gate> held = new ArrayDeque<>();
  private final OpenFolder locks;

  private FolderLock(OpenFolder locks) {
    this.locks = locks;
  }

  /** What a folder's threads wait at. */
  private static final class Gate {
    final Path key;
    final String name;
    final ReentrantLock lock = new ReentrantLock(true);
    int users;
    @Nullable ProcessLock process;

    Gate(Path key, String name) {
      this.key = key;
      this.name = name;
    }
  }

  /** Whether this thread holds no folder yet. */
  static boolean isFirst() {
    return HELD.get() == 0;
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
      ordered.putIfAbsent(nameOf(folder), folder);
    }
    FileSystem system =
        folders.stream()
            .findFirst()
            .map(one -> one.path().getFileSystem())
            .orElseGet(FileSystems::getDefault);
    FolderLock lock;
    try (OpenFolder state = StateFolder.open(system, FolderOpening::open)) {
      lock = new FolderLock(StateFolder.openIn(state, LOCKS));
    }
    return lock.all(ordered, wait);
  }

  /** Takes the state folder itself, for a moment; last of all that is taken. */
  static FolderLock holdState(OpenFolder state) throws IOException {
    TreeMap<String, OpenFolder> one = new TreeMap<>();
    one.put(STATE, state);
    return new FolderLock(StateFolder.openIn(state, LOCKS)).all(one, WAIT);
  }

  private FolderLock all(Map<String, OpenFolder> ordered, Duration wait) throws IOException {
    boolean all = false;
    try {
      for (Map.Entry<String, OpenFolder> one : ordered.entrySet()) {
        take(one.getKey(), one.getValue(), wait);
      }
      all = true;
      return this;
    } finally {
      if (!all) {
        close();
      }
    }
  }

  /** The name of a folder's lock: it is the folder that counts, not its path. */
  private static String nameOf(OpenFolder folder) throws IOException {
    FileId id = folder.id();
    return id.number().isEmpty()
        ? Hex.sha256(folder.path().toString().getBytes(StandardCharsets.UTF_8))
        : id.device() + "-" + id.number();
  }

  private void take(String name, OpenFolder folder, Duration wait) throws IOException {
    Path key = locks.path().resolve(name);
    Gate gate =
        GATES.compute(
            key,
            (same, present) -> {
              Gate one = present == null ? new Gate(same, name) : present;
              one.users++;
              return one;
            });
    long deadline = System.nanoTime() + wait.toNanos();
    boolean taken = false;
    try {
      if (!gate.lock.tryLock(wait.toNanos(), TimeUnit.NANOSECONDS)) {
        throw inUse(folder, wait);
      }
      if (gate.lock.getHoldCount() == 1) {
        try {
          gate.process = process(name, folder, deadline, wait);
        } finally {
          if (gate.process == null) {
            gate.lock.unlock();
          }
        }
      }
      held.push(gate);
      HELD.set(HELD.get() + 1);
      taken = true;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was written.",
          "The work was interrupted while it waited for the folder "
              + NotWritten.shown(folder.path())
              + ".",
          "Try again.",
          e);
    } finally {
      if (!taken) {
        leave(gate);
      }
    }
  }

  private ProcessLock process(String name, OpenFolder folder, long deadline, Duration wait)
      throws IOException, InterruptedException {
    while (true) {
      Optional<ProcessLock> taken = ProcessLock.tryTake(locks, name);
      if (taken.isPresent()) {
        return taken.get();
      }
      if (System.nanoTime() > deadline) {
        throw inUse(folder, wait);
      }
      Thread.sleep(PAUSE);
    }
  }

  private static void leave(Gate gate) {
    GATES.computeIfPresent(gate.key, (key, one) -> --one.users == 0 ? null : one);
  }

  private static SymbolonException inUse(OpenFolder folder, Duration wait) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "Nothing was written.",
        "Another command of this account works in the folder "
            + NotWritten.shown(folder.path())
            + (wait.toMinutes() > 0 ? ", for " + wait.toMinutes() + " minutes by now." : "."),
        "Wait until it has ended, and try again.");
  }

  @Override
  public void close() throws IOException {
    try {
      while (!held.isEmpty()) { // every folder is let go of, whatever happens at one of them
        release(held.pop());
      }
    } finally {
      locks.close();
    }
  }

  private void release(Gate gate) {
    try {
      ProcessLock process = gate.process;
      if (gate.lock.getHoldCount() == 1 && process != null) {
        gate.process = null;
        process.release(locks, gate.name);
      }
    } catch (IOException e) {
      LOG.debug("the lock of {} could not be removed", gate.key, e);
    } finally {
      HELD.set(HELD.get() - 1);
      gate.lock.unlock();
      leave(gate);
    }
  }
}
