// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Collection;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A lock on a file that the system lets go of when the process dies.
 *
 * <p>Such a lock belongs to the whole process and is lost when any channel to that file is closed.
 * So what this process holds is never opened a second time; and a file that another copy of this
 * library in the same process holds stays open once it was opened.
 */
final class ProcessLock implements Closeable {
  private static final Logger LOG = LoggerFactory.getLogger(ProcessLock.class);
  private static final int TRIES = 3; // for a file that is removed while it is opened
  private static final Set<Path> HELD = ConcurrentHashMap.newKeySet();
  private static final Collection<FileChannel> NEVER_CLOSED = new ConcurrentLinkedQueue<>();

  private final Path path;
  private final FileChannel channel;

  private ProcessLock(Path path, FileChannel channel) {
    this.path = path;
    this.channel = channel;
  }

  /** Takes it, if nobody holds it. */
  static Optional<ProcessLock> tryTake(OpenFolder folder, String name) throws IOException {
    Path path = folder.path().resolve(name);
    if (!HELD.add(path)) {
      return Optional.empty();
    }
    Optional<ProcessLock> taken = Optional.empty();
    try {
      for (int i = 0; i < TRIES && taken.isEmpty(); i++) {
        try {
          taken = taken(folder, folder.name(name), path);
        } catch (NoSuchFileException e) {
          LOG.trace("the lock file {} was removed while it was opened", path, e);
        }
      }
      return taken;
    } finally {
      if (taken.isEmpty()) {
        HELD.remove(path);
      }
    }
  }

  /** Who held the file before may have removed its name: then the lock is on no file any more. */
  private static Optional<ProcessLock> taken(OpenFolder folder, Path name, Path path)
      throws IOException {
    if (!folder.has(name)) {
      folder.createOrOpen(name).close();
    }
    Optional<FileId> before = folder.id(name);
    FileChannel channel = folder.createOrOpen(name);
    boolean keep = false;
    try {
      keep = channel.tryLock() != null && before.equals(folder.id(name));
      return keep ? Optional.of(new ProcessLock(path, channel)) : Optional.empty();
    } catch (OverlappingFileLockException e) {
      keep = true;
      NEVER_CLOSED.add(channel);
      return Optional.empty();
    } finally {
      if (!keep) {
        channel.close();
      }
    }
  }

  /** Lets go of it, and removes the file. */
  void release(OpenFolder folder, String name) throws IOException {
    if (!channel.isOpen()) {
      return;
    }
    if (folder instanceof PathFolder) { // such systems remove no open file
      close();
    }
    try {
      folder.deleteIfThere(folder.name(name));
    } catch (IOException e) {
      LOG.debug("the lock file {} stays", path, e); // somebody else has it open there
    } finally {
      close();
    }
  }

  @Override
  public void close() throws IOException {
    if (channel.isOpen()) {
      try {
        channel.close();
      } finally {
        HELD.remove(path);
      }
    }
  }
}
