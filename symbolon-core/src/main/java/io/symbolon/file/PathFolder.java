// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.AccessDeniedException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributeView;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A folder by its name, for systems without handles for folders, such as Windows. A file for its
 * owner alone gets an access list of its own when it is made, and inherits nothing.
 */
final class PathFolder extends OpenFolder {
  private static final Logger LOG = LoggerFactory.getLogger(PathFolder.class);
  private static final int TRIES = 20; // a scanner or an indexer holds a new file for a moment
  private static final int PAUSE = 50; // milliseconds

  PathFolder(Path real) throws IOException {
    super(real);
    if (!Files.isDirectory(real, LinkOption.NOFOLLOW_LINKS)) {
      if (!Files.exists(real, LinkOption.NOFOLLOW_LINKS)) {
        throw new NoSuchFileException(real.toString());
      }
      throw new NotDirectoryException(real.toString());
    }
  }

  private Path in(Path name) {
    return path().resolve(name);
  }

  @Override
  FileChannel open(Path name, Set<OpenOption> options) throws IOException {
    try {
      return FileChannel.open(in(name), options, Rights.ownerOnly(path(), false));
    } catch (UnsupportedOperationException e) {
      // Not every file system takes an access list at creation. Then it is given before there is
      // any content.
      boolean made = !Files.exists(in(name), LinkOption.NOFOLLOW_LINKS);
      FileChannel channel = FileChannel.open(in(name), options);
      if (made) {
        Rights.giveOwnerOnly(in(name), false);
      }
      return channel;
    }
  }

  @Override
  FileChannel read(Path name) throws IOException {
    return FileChannel.open(in(name), StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS);
  }

  @Override
  BasicFileAttributes attributes(Path name) throws IOException {
    return Files.readAttributes(in(name), BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
  }

  @Override
  BasicFileAttributes attributes() throws IOException {
    return Files.readAttributes(path(), BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
  }

  @Override
  Rights rights(Path name) throws IOException {
    return Rights.of(in(name));
  }

  @Override
  Rights rights() throws IOException {
    return Rights.of(path());
  }

  @Override
  void give(Path name, Rights rights) throws IOException {
    rights.applyTo(in(name));
  }

  @Override
  void touch(Path name, FileTime when) throws IOException {
    Files.getFileAttributeView(in(name), BasicFileAttributeView.class, LinkOption.NOFOLLOW_LINKS)
        .setTimes(when, null, null);
  }

  @Override
  void rename(Path name, OpenFolder to, Path newName) throws IOException {
    Path target = to.path().resolve(newName);
    for (int i = 1; ; i++) {
      try {
        if (attributes(name).isDirectory()) {
          Files.move(in(name), target);
        } else {
          Files.move(
              in(name),
              target,
              StandardCopyOption.ATOMIC_MOVE,
              StandardCopyOption.REPLACE_EXISTING);
        }
        return;
      } catch (AccessDeniedException e) {
        // Windows replaces no file that another program holds open.
        if (i == TRIES) {
          throw e;
        }
        pause(e);
      }
    }
  }

  private static void pause(IOException e) throws IOException {
    try {
      Thread.sleep(PAUSE);
    } catch (InterruptedException interrupted) {
      Thread.currentThread().interrupt();
      throw e;
    }
  }

  @Override
  void delete(Path name) throws IOException {
    Files.delete(in(name));
  }

  @Override
  void deleteFolder(Path name) throws IOException {
    Files.delete(in(name));
  }

  @Override
  OpenFolder enter(Path name) throws IOException {
    return new PathFolder(in(name));
  }

  @Override
  OpenFolder make(Path name) throws IOException {
    try {
      Files.createDirectory(in(name), Rights.ownerOnly(path(), true));
    } catch (UnsupportedOperationException e) {
      Files.createDirectory(in(name));
      Rights.giveOwnerOnly(in(name), true);
    }
    return enter(name);
  }

  @Override
  List<Path> names() throws IOException {
    try (Stream<Path> files = Files.list(path())) {
      return files.map(Path::getFileName).toList();
    }
  }

  @Override
  void flush() {
    try (FileChannel channel = FileChannel.open(path(), StandardOpenOption.READ)) {
      channel.force(true);
    } catch (IOException e) {
      LOG.debug("the folder {} can't be flushed on this system", path(), e);
    }
  }

  @Override
  public void close() {}
}
