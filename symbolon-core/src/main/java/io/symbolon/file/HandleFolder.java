// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NotDirectoryException;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.SecureDirectoryStream;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** A folder held by the system's own handle: every name is looked up in it and nowhere else. */
final class HandleFolder extends OpenFolder {
  private static final FileAttribute<Set<PosixFilePermission>> OWNER_FILE =
      PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"));
  private static final Set<PosixFilePermission> OWNER_FOLDER =
      PosixFilePermissions.fromString("rwx------");

  private static final Path HANDLES = Path.of("/proc/self/fd");

  private final SecureDirectoryStream<Path> stream;

  HandleFolder(Path path, SecureDirectoryStream<Path> stream) {
    super(path);
    this.stream = stream;
  }

  @Override
  FileChannel open(Path name, Set<OpenOption> options) throws IOException {
    if (options.contains(StandardOpenOption.CREATE_NEW)) {
      return (FileChannel) stream.newByteChannel(name, options, OWNER_FILE);
    }
    if (has(name)) {
      checkFile(name);
    }
    return opened(name, () -> (FileChannel) stream.newByteChannel(name, options, OWNER_FILE));
  }

  @Override
  FileChannel read(Path name) throws IOException {
    checkFile(name);
    return opened(
        name,
        () ->
            (FileChannel)
                stream.newByteChannel(
                    name, Set.of(StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS)));
  }

  /** Opening a pipe waits for its other end, so that no pipe is opened. */
  private void checkFile(Path name) throws IOException {
    if (attributes(name).isOther()) {
      throw new NotAFileException(path().resolve(name), "a device, a pipe or a socket");
    }
  }

  /** What others can exchange between the look and the opening is not waited for. */
  private <T extends java.io.Closeable> T opened(Path name, TimedOpen.Opening<T> opening)
      throws IOException {
    return FolderGuard.isOursAlone(rights())
        ? opening.open()
        : TimedOpen.open(path().resolve(name), opening);
  }

  private PosixFileAttributeView view(Path name) {
    return stream.getFileAttributeView(
        name, PosixFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
  }

  @Override
  BasicFileAttributes attributes(Path name) throws IOException {
    return view(name).readAttributes();
  }

  @Override
  BasicFileAttributes attributes() throws IOException {
    return stream.getFileAttributeView(PosixFileAttributeView.class).readAttributes();
  }

  @Override
  Rights rights(Path name) throws IOException {
    return Rights.Posix.of(view(name).readAttributes());
  }

  @Override
  Rights.Posix rights() throws IOException {
    return Rights.Posix.of(
        stream.getFileAttributeView(PosixFileAttributeView.class).readAttributes());
  }

  @Override
  void give(Path name, Rights rights) throws IOException {
    Rights.Posix wanted = (Rights.Posix) rights;
    PosixFileAttributeView view = view(name);
    Rights.Posix now = Rights.Posix.of(view.readAttributes());
    if (!now.group().equals(wanted.group())) {
      view.setGroup(wanted.group());
    }
    // The mode before the owner: who is not root may not change it afterwards. Nobody else can
    // reach the file yet.
    view.setPermissions(wanted.permissions());
    if (!now.owner().equals(wanted.owner())) {
      view.setOwner(wanted.owner());
      view.setPermissions(wanted.permissions()); // giving a file away may take bits from it
    }
  }

  @Override
  void touch(Path name, FileTime when) throws IOException {
    view(name).setTimes(when, null, null);
  }

  @Override
  void rename(Path name, OpenFolder to, Path newName) throws IOException {
    stream.move(name, ((HandleFolder) to).stream, newName);
  }

  @Override
  void delete(Path name) throws IOException {
    stream.deleteFile(name);
  }

  @Override
  void deleteFolder(Path name) throws IOException {
    stream.deleteDirectory(name);
  }

  @Override
  OpenFolder enter(Path name) throws IOException {
    if (!attributes(name).isDirectory()) {
      throw new NotDirectoryException(path().resolve(name).toString());
    }
    return opened(
        name,
        () ->
            new HandleFolder(
                path().resolve(name), stream.newDirectoryStream(name, LinkOption.NOFOLLOW_LINKS)));
  }

  @Override
  OpenFolder make(Path name) throws IOException {
    // Java makes folders by their whole name only. Where the system shows the handle as a path,
    // that path leads to the very folder that we hold. What is opened afterwards must be new, ours,
    // and in that folder.
    // In a folder of ours alone, what is in it by then was put there by another command of ours.
    boolean isAlone = FolderGuard.isOursAlone(rights());
    Files.createDirectory(held().resolve(name), PosixFilePermissions.asFileAttribute(OWNER_FOLDER));
    HandleFolder made = (HandleFolder) enter(name);
    try {
      Rights.Posix rights = made.rights();
      if (!SystemAccounts.isUs(rights.owner())
          || !rights.permissions().equals(OWNER_FOLDER)
          || !(isAlone || made.names().isEmpty())) {
        throw new FileSystemException(
            made.path().toString(), null, "another folder was put in the place of a new one");
      }
      return made;
    } catch (IOException | RuntimeException e) {
      made.close();
      throw e;
    }
  }

  /** The folder by its handle, where the system shows it and somebody could exchange its name. */
  private Path held() throws IOException {
    Object key = attributes().fileKey();
    if (key == null || FolderGuard.isOursAlone(rights()) || !Files.isDirectory(HANDLES)) {
      return path();
    }
    try (java.nio.file.DirectoryStream<Path> handles = Files.newDirectoryStream(HANDLES)) {
      for (Path handle : handles) {
        if (key.equals(keyOf(handle))) {
          return handle;
        }
      }
    } catch (java.nio.file.DirectoryIteratorException e) {
      throw e.getCause();
    }
    return path();
  }

  private static @Nullable Object keyOf(Path handle) {
    try {
      return Files.readAttributes(handle, BasicFileAttributes.class).fileKey();
    } catch (IOException e) {
      return null; // closed meanwhile, or no file
    }
  }

  @Override
  List<Path> names() throws IOException {
    List<Path> names = new ArrayList<>();
    // A stream is read once; another one on the same folder can be read again.
    try (SecureDirectoryStream<Path> again = stream.newDirectoryStream(name("."))) {
      for (Path one : again) {
        names.add(one.getFileName());
      }
    } catch (java.nio.file.DirectoryIteratorException e) {
      throw e.getCause();
    }
    return names;
  }

  @Override
  void flush() throws IOException {
    try (FileChannel channel =
        (FileChannel) stream.newByteChannel(name("."), Set.of(StandardOpenOption.READ))) {
      channel.force(true);
    }
  }

  @Override
  public void close() throws IOException {
    stream.close();
  }
}
