// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.limit.Limits;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileSystemException;
import java.nio.file.FileSystemLoopException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.UserPrincipal;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;

/**
 * Reads files that other accounts may have placed, without being held up or led astray: no devices,
 * pipes and sockets, no files that the system makes up while they are read, and no link of another
 * account that leads to a file which is not that account's.
 */
public final class SafeRead {
  private static final int TRIES = 3; // for a file that changes while it is read
  private static final Set<String> MADE_UP =
      Set.of(
          "proc",
          "sysfs",
          "debugfs",
          "tracefs",
          "securityfs",
          "cgroup",
          "cgroup2",
          "configfs",
          "pstore",
          "bpf",
          "devpts",
          "devtmpfs",
          "mqueue",
          "fusectl",
          "binfmt_misc",
          "selinuxfs");

  private SafeRead() {}

  /**
   * What was read.
   *
   * @param octets the content, or its beginning
   * @param size the size of the file; of a stream, what was read of it
   * @param whole whether that is all of it
   */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  public record Content(byte[] octets, long size, boolean whole) {}

  /**
   * Reads a file that was named; links to it are followed. What a shell hands over as an open
   * stream is read, too.
   *
   * @param most how many octets are read; of a larger file only the first {@code head}
   * @param head the first octets
   * @return the content
   * @throws NotAFileException if it is a device, a pipe, a socket, or another account's link to
   *     somewhere else
   * @throws IOException if it can't be read
   */
  public static Content named(Path file, int most, int head) throws IOException {
    if (isHandedOver(file)) {
      try (InputStream in = Files.newInputStream(file)) {
        return content(in, most, head, Optional.empty());
      }
    }
    Path real = resolved(file);
    checkKind(
        real, Files.readAttributes(real, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS));
    OpenFolder folder;
    try {
      folder = FolderOpening.open(TargetName.folder(real));
    } catch (AccessDeniedException e) {
      return walked(real, most, head); // a folder that may be passed but not opened
    }
    try (folder) {
      Path name = TargetName.last(real);
      for (int i = 1; ; i++) {
        BasicFileAttributes before = folder.attributes(name);
        checkKind(real, before);
        Content content;
        try (FileChannel channel = folder.read(name)) {
          content =
              content(Channels.newInputStream(channel), most, head, Optional.of(channel.size()));
        }
        if (i == TRIES || isSame(before, folder.attributes(name))) {
          return content;
        }
      }
    }
  }

  /** A file that has more than may be read. */
  public static final class TooLarge extends FileSystemException {
    private static final long serialVersionUID = 1L;

    TooLarge(Path file, int most) {
      super(file.toString(), null, "it has more than " + most + " octets");
    }
  }

  /**
   * Reads a text in UTF-8 that was named.
   *
   * @param most how many octets it may have
   * @return the text
   * @throws NotAFileException if it is a device, a pipe, a socket, or another account's link to
   *     somewhere else
   * @throws TooLarge if it has more
   * @throws java.nio.charset.CharacterCodingException if it is not text in UTF-8
   * @throws IOException if it can't be read
   */
  public static String text(Path file, int most) throws IOException {
    Content content = named(file, most, 0);
    if (!content.whole()) {
      throw new TooLarge(file, most);
    }
    return StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(content.octets())).toString();
  }

  /**
   * Why a file can't be read, as a sentence.
   *
   * @param e what reading it ended with
   * @return the sentence
   */
  public static String why(Path file, IOException e) {
    if (e instanceof NotAFileException notOne) {
      return "It is " + notOne.what() + ".";
    }
    if (e instanceof java.nio.charset.CharacterCodingException) {
      return "It is not text in UTF-8.";
    }
    if (e instanceof TooLarge large) {
      return "It" + String.valueOf(large.getReason()).substring(2) + ".";
    }
    return Files.exists(file) ? "The system does not let you." : "There is no such file.";
  }

  /**
   * {@return whether a file is root's or that of the account that this program runs as, so that
   * what it says may be acted on} Where the system tells no owners, it is.
   *
   * @param file the file, which is no link
   * @throws IOException if it can't be looked at
   */
  public static boolean isOfRootOrUs(Path file) throws IOException {
    try {
      return SystemAccounts.isRootOrUs(Files.getOwner(file, LinkOption.NOFOLLOW_LINKS));
    } catch (UnsupportedOperationException e) {
      return true;
    }
  }

  /**
   * Reads a file that was found in a folder and is no link.
   *
   * @param head the first octets
   * @return the content
   * @throws NotAFileException if it is a device, a pipe, a socket or a link by now
   * @throws IOException if it can't be read
   */
  public static Content walked(Path file, int most, int head) throws IOException {
    BasicFileAttributes attributes =
        Files.readAttributes(file, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
    checkKind(file, attributes);
    TimedOpen.Opening<SeekableByteChannel> opening =
        () ->
            Files.newByteChannel(file, Set.of(StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS));
    // What was found in a folder may be exchanged by whoever can write there.
    try (SeekableByteChannel channel =
        FolderGuard.isOursAlone(TargetName.folder(file))
            ? opening.open()
            : TimedOpen.open(file, opening)) {
      return content(Channels.newInputStream(channel), most, head, Optional.of(channel.size()));
    }
  }

  private static Content content(InputStream in, int most, int head, Optional<Long> size)
      throws IOException {
    if (size.isPresent() && size.get() > most) {
      return new Content(in.readNBytes(head), size.get(), false);
    }
    byte[] octets = in.readNBytes(most + 1);
    return octets.length > most
        ? new Content(octets, octets.length, false)
        : new Content(octets, octets.length, true);
  }

  private static boolean isSame(BasicFileAttributes before, BasicFileAttributes after) {
    return Objects.equals(before.fileKey(), after.fileKey())
        && before.size() == after.size()
        && before.lastModifiedTime().equals(after.lastModifiedTime());
  }

  private static boolean isHandedOver(Path file) {
    String text = file.toString();
    return text.equals("/dev/stdin")
        || text.startsWith("/dev/fd/")
        || text.startsWith("/proc/self/fd/");
  }

  private static void checkKind(Path file, BasicFileAttributes attributes) throws IOException {
    if (attributes.isOther()) {
      throw new NotAFileException(file, "a device, a pipe or a socket");
    }
    if (attributes.isSymbolicLink()) {
      throw new NotAFileException(file, "a link that was put there just now");
    }
    if (attributes.isRegularFile() && attributes.size() == 0 && isMadeUp(file)) {
      throw new NotAFileException(
          file, "no file on a disk: the system makes it up while it is read");
    }
  }

  private static boolean isMadeUp(Path file) {
    try {
      return MADE_UP.contains(Files.getFileStore(file).type().toLowerCase(Locale.ROOT));
    } catch (IOException | SecurityException e) {
      return false;
    }
  }

  /**
   * The file behind all links on the way. A link that another account has placed counts where the
   * file is that account's, too: it could then have put the file itself there.
   */
  private static Path resolved(Path file) throws IOException {
    Path real = file.toRealPath();
    Set<UserPrincipal> placed = new HashSet<>();
    foreignLinks(file.toAbsolutePath(), placed);
    if (!placed.isEmpty()
        && Rights.of(real) instanceof Rights.Posix rights
        && !placed.equals(Set.of(rights.owner()))) {
      throw new NotAFileException(
          file,
          "reached by a link of the account "
              + io.symbolon.text.VisibleText.of(placed.iterator().next().getName())
              + ", and belongs to "
              + io.symbolon.text.VisibleText.of(rights.owner().getName()));
    }
    return real;
  }

  private static void foreignLinks(Path file, Set<UserPrincipal> placed) throws IOException {
    Deque<Path> left = new ArrayDeque<>();
    file.forEach(left::add);
    Path at = file.getRoot();
    int links = 0;
    while (!left.isEmpty() && at != null) {
      Path name = left.removeFirst();
      Path next = name.toString().equals("..") ? parent(at) : at.resolve(name);
      if (name.toString().equals(".") || !Files.isSymbolicLink(next)) {
        at = name.toString().equals(".") ? at : next;
        continue;
      }
      if (++links > Limits.LINKS) {
        throw new FileSystemLoopException(file.toString());
      }
      if (Rights.of(next) instanceof Rights.Posix rights
          && !SystemAccounts.isRootOrUs(rights.owner())) {
        placed.add(rights.owner());
      }
      Path target = Files.readSymbolicLink(next);
      List<Path> names = new java.util.ArrayList<>();
      target.forEach(names::add);
      for (int i = names.size() - 1; i >= 0; i--) {
        left.addFirst(names.get(i));
      }
      if (target.isAbsolute()) {
        at = target.getRoot();
      }
    }
  }

  private static Path parent(Path path) {
    Path parent = path.getParent();
    return parent == null ? path : parent;
  }
}
