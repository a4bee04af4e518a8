// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.FileSystemLoopException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.UserPrincipal;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.Optional;
import java.util.Set;

/**
 * Who could change a file, or put another one in its place. Every folder and every link on the way
 * from the root of the file system to it counts: the owner of any of them decides what its name
 * means.
 *
 * <p>Where nobody but the trusted accounts controls the way, {@link #real()} means the same file
 * for as long as that is so: it has no link on it, and nobody else can exchange a part of it. Where
 * the file system has no owners and modes (Windows), nobody is told.
 */
public final class PathControl {
  private final Path real;
  private final Optional<Stranger> stranger;

  private PathControl(Path real, Optional<Stranger> stranger) {
    this.real = real;
    this.stranger = stranger;
  }

  /**
   * Somebody who controls a part of the way.
   *
   * @param where the file, folder or link that is the reason
   * @param owner the account that it belongs to
   * @param writers who may write there besides, in words; nothing where its owner is the reason
   */
  public record Stranger(Path where, String owner, Optional<String> writers) {
    /** {@return the reason as a sentence} */
    public String sentence() {
      String shown = NotWritten.shown(where);
      return writers
          .map(
              who ->
                  shown
                      + " can be changed by "
                      + who
                      + "; it belongs to "
                      + VisibleText.of(owner)
                      + ".")
          .orElse(shown + " belongs to the account " + VisibleText.of(owner) + ".");
    }

    /** {@return the account that controls it, where that is one account} */
    public Optional<String> account() {
      return writers.isPresent() ? Optional.empty() : Optional.of(owner);
    }
  }

  /** {@return the file itself, with no link on the way} */
  public Path real() {
    return real;
  }

  /** {@return who besides the trusted accounts controls a part of the way; nothing if nobody} */
  public Optional<Stranger> stranger() {
    return stranger;
  }

  /**
   * Looks at the way to a file or folder, for root and the account that this process runs as.
   *
   * @param path the file or folder
   * @return who controls it
   * @throws IOException if it is not there, or can't be looked at
   */
  public static PathControl of(Path path) throws IOException {
    return of(path, Set.of(SystemAccounts.us()));
  }

  /**
   * Looks at the way to a file or folder, for root and another account.
   *
   * @param path the file or folder
   * @param account the account that may control it besides root
   * @return who else controls it
   * @throws IOException if it is not there, or can't be looked at
   */
  public static PathControl of(Path path, String account) throws IOException {
    if (!path.getFileSystem().supportedFileAttributeViews().contains("posix")) {
      return of(path);
    }
    return of(
        path,
        Set.of(
            path.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName(account)));
  }

  private static PathControl of(Path path, Set<UserPrincipal> accounts) throws IOException {
    Path absolute = path.toAbsolutePath();
    if (absolute.getRoot() == null
        || !path.getFileSystem().supportedFileAttributeViews().contains("posix")) {
      return new PathControl(absolute.toRealPath(), Optional.empty());
    }
    Set<UserPrincipal> trusted = new LinkedHashSet<>(accounts);
    SystemAccounts.root().ifPresent(trusted::add);
    return new Walk(absolute, trusted).walk();
  }

  /** Goes from the root of the file system to the file, name by name. */
  private static final class Walk {
    private final Set<UserPrincipal> trusted;
    private final Deque<Path> left = new ArrayDeque<>();
    private Path at;
    private boolean shared; // names in it belong to the owners of their files
    private int links;
    private Optional<Stranger> stranger = Optional.empty();

    Walk(Path absolute, Set<UserPrincipal> trusted) throws IOException {
      this.trusted = trusted;
      this.at = absolute.getRoot();
      absolute.forEach(left::add);
      folder(read(at));
    }

    PathControl walk() throws IOException {
      while (!left.isEmpty()) {
        String name = left.getFirst().toString();
        Path next = at.resolve(left.removeFirst());
        if (name.isEmpty() || name.equals(".")) {
          continue;
        }
        if (name.equals("..")) {
          up();
          continue;
        }
        PosixFileAttributes attributes = read(next);
        if (shared) {
          owned(next, attributes);
        }
        shared = false;
        if (attributes.isSymbolicLink()) {
          follow(next, attributes);
        } else if (attributes.isDirectory()) {
          at = next;
          folder(attributes);
        } else if (left.isEmpty()) {
          at = next;
          owned(next, attributes);
          closed(next, attributes);
        } else {
          throw new NotDirectoryException(next.toString());
        }
      }
      if (shared) { // a folder at the end in which everybody may place files
        told(new Stranger(at, read(at).owner().getName(), Optional.of("everybody")));
      }
      return new PathControl(at, stranger);
    }

    private void up() throws IOException {
      Path parent = at.getParent();
      if (parent != null) {
        at = parent;
        shared = false;
        folder(read(at));
      }
    }

    private void follow(Path link, PosixFileAttributes attributes) throws IOException {
      if (++links > Limits.LINKS) {
        throw new FileSystemLoopException(link.toString());
      }
      owned(link, attributes);
      Path target = Files.readSymbolicLink(link);
      Deque<Path> names = new ArrayDeque<>();
      target.forEach(names::add);
      while (!names.isEmpty()) {
        left.addFirst(names.removeLast());
      }
      if (target.isAbsolute()) {
        at = target.getRoot();
      }
      folder(read(at));
    }

    private void folder(PosixFileAttributes attributes) throws IOException {
      owned(at, attributes);
      boolean open =
          attributes.permissions().contains(PosixFilePermission.OTHERS_WRITE)
              || attributes.permissions().contains(PosixFilePermission.GROUP_WRITE);
      if (open && FolderGuard.isSticky(at)) {
        shared = true;
      } else {
        closed(at, attributes);
      }
    }

    private void owned(Path where, PosixFileAttributes attributes) {
      if (!trusted.contains(attributes.owner())) {
        told(new Stranger(where, attributes.owner().getName(), Optional.empty()));
      }
    }

    private void closed(Path where, PosixFileAttributes attributes) {
      String owner = attributes.owner().getName();
      if (attributes.permissions().contains(PosixFilePermission.OTHERS_WRITE)) {
        told(new Stranger(where, owner, Optional.of("everybody")));
      } else if (attributes.permissions().contains(PosixFilePermission.GROUP_WRITE)
          && !SystemAccounts.isAlone(attributes.group(), trusted)) {
        told(
            new Stranger(
                where,
                owner,
                Optional.of("the group " + VisibleText.of(attributes.group().getName()))));
      }
    }

    private void told(Stranger one) {
      if (stranger.isEmpty()) {
        stranger = Optional.of(one);
      }
    }

    private static PosixFileAttributes read(Path path) throws IOException {
      return Files.readAttributes(path, PosixFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
    }
  }
}
