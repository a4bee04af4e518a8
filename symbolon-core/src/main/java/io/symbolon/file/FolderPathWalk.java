// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.limit.Limits;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemLoopException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.nio.file.SecureDirectoryStream;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFileAttributes;
import java.util.ArrayDeque;
import java.util.Deque;

/**
 * Goes from the root of the file system to a folder, opening each folder on the way from the one
 * before it. Between the look at a name and its use nobody can put a link in its place: opening
 * refuses links, and a link is read only where nobody else could have placed it.
 */
final class FolderPathWalk {

  private final Deque<Path> left = new ArrayDeque<>();
  private SecureDirectoryStream<Path> stream;
  private Path at;
  private int links;

  private FolderPathWalk(Path root, SecureDirectoryStream<Path> stream) {
    this.at = root;
    this.stream = stream;
  }

  static HandleFolder walk(Path root, SecureDirectoryStream<Path> first, Path folder)
      throws IOException {
    FolderPathWalk walk = new FolderPathWalk(root, first);
    folder.forEach(walk.left::add);
    try {
      while (!walk.left.isEmpty()) {
        walk.step(walk.left.removeFirst());
      }
      return new HandleFolder(walk.at, walk.stream);
    } catch (IOException | RuntimeException e) {
      walk.stream.close();
      throw e;
    }
  }

  private void step(Path name) throws IOException {
    String text = name.toString();
    if (text.isEmpty() || text.equals(".")) {
      return;
    }
    if (text.equals("..")) {
      Path parent = at.getParent();
      enter(name, parent == null ? at : parent);
      return;
    }
    PosixFileAttributes attributes =
        stream
            .getFileAttributeView(name, PosixFileAttributeView.class, LinkOption.NOFOLLOW_LINKS)
            .readAttributes();
    if (attributes.isSymbolicLink()) {
      follow(name, Rights.Posix.of(attributes));
    } else if (!attributes.isDirectory()) {
      throw new NotDirectoryException(at.resolve(name).toString());
    } else {
      enter(name, at.resolve(name));
    }
  }

  private void follow(Path name, Rights.Posix rights) throws IOException {
    Path link = at.resolve(name);
    if (++links > Limits.LINKS) {
      throw new FileSystemLoopException(link.toString());
    }
    HandleFolder here = new HandleFolder(at, stream);
    if (!FolderGuard.mayFollow(here, rights)) {
      throw new ForeignLinkException(link);
    }
    Path target = Files.readSymbolicLink(link);
    Deque<Path> names = new ArrayDeque<>();
    target.forEach(names::add);
    while (!names.isEmpty()) {
      left.addFirst(names.removeLast());
    }
    if (target.isAbsolute()) {
      Path root = target.getRoot();
      replace(open(root), root);
    }
  }

  private void enter(Path name, Path reached) throws IOException {
    DirectoryStream<Path> next;
    try {
      SecureDirectoryStream<Path> here = stream;
      next =
          FolderGuard.isOursAlone(new HandleFolder(at, here).rights())
              ? here.newDirectoryStream(name, LinkOption.NOFOLLOW_LINKS)
              : TimedOpen.open(
                  reached, () -> here.newDirectoryStream(name, LinkOption.NOFOLLOW_LINKS));
    } catch (AccessDeniedException e) {
      passThrough(reached, e);
      return;
    }
    replace((SecureDirectoryStream<Path>) next, reached);
  }

  /**
   * A folder that may be passed but not listed, such as a common folder of homes: the one behind it
   * is opened by its whole name, which nobody else can change where this folder is root's.
   */
  private void passThrough(Path reached, AccessDeniedException denied) throws IOException {
    Path behind = left.isEmpty() ? null : left.removeFirst();
    PosixFileAttributes attributes =
        Files.readAttributes(reached, PosixFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
    Path next = behind == null ? reached : reached.resolve(behind);
    if (behind == null
        || !SystemAccounts.isRootOrUs(attributes.owner())
        || FolderGuard.othersMayWrite(attributes.permissions())
        || Files.isSymbolicLink(next)) {
      throw denied;
    }
    replace(open(next), next);
  }

  @SuppressWarnings("StreamResourceLeak") // the next step closes it
  private static SecureDirectoryStream<Path> open(Path folder) throws IOException {
    return (SecureDirectoryStream<Path>) Files.newDirectoryStream(folder);
  }

  private void replace(SecureDirectoryStream<Path> next, Path reached) throws IOException {
    stream.close();
    stream = next;
    at = reached;
  }
}
