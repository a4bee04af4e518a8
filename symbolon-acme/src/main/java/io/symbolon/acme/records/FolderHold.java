// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Optional;

/**
 * That one process has the database of a folder: a lock of the system, which is gone the moment a
 * process is killed. The database's own lock is a file that others look at for ten seconds to learn
 * whether whoever made it still lives.
 */
final class FolderHold implements AutoCloseable {
  private static final String NAME = "open.lock";

  private final FileChannel channel;

  private FolderHold(FileChannel channel) {
    this.channel = channel;
  }

  /**
   * Takes it, if nobody has it.
   *
   * @throws IOException if the system has no such locks, or the folder can't be written
   */
  static Optional<FolderHold> take(Path folder) throws IOException {
    FileChannel channel =
        FileChannel.open(
            folder.resolve(NAME),
            StandardOpenOption.CREATE,
            StandardOpenOption.WRITE,
            LinkOption.NOFOLLOW_LINKS);
    try {
      FileLock lock = channel.tryLock();
      if (lock != null) {
        return Optional.of(new FolderHold(channel));
      }
    } catch (OverlappingFileLockException e) {
      // another part of this program
    } catch (IOException e) {
      channel.close();
      throw e;
    }
    channel.close();
    return Optional.empty();
  }

  @Override
  public void close() {
    try {
      channel.close();
    } catch (IOException e) {
      // it is gone with the process
    }
  }
}
