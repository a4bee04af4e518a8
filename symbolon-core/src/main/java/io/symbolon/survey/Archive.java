// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;

/**
 * A zip archive or a saved mail, looked into like a folder: in memory, and never unpacked to disk.
 * Its files are named as if it were a folder, so that such a name can be given to a command as
 * well. How many files, how many octets and how deep is bounded, because a small archive can say
 * that it holds more than any machine does.
 */
final class Archive {
  private static final Charset OLD_NAMES = Charset.forName("IBM437"); // where no name is UTF-8

  private final Path path;
  private final Optional<Attachments> mails;
  private final boolean mail;
  private final Consumer<ArchivedFile> each;
  private int files;
  private final Set<Path> names = new HashSet<>();
  private Optional<SymbolonException> failure = Optional.empty();
  private long left;

  private Archive(
      Path path, Optional<Attachments> mails, boolean mail, Consumer<ArchivedFile> each) {
    this.path = path;
    this.mails = mails;
    this.mail = mail;
    this.each = each;
    this.left = Limits.ARCHIVE_BYTES;
  }

  /**
   * One file in an archive.
   *
   * @param path the archive's path and below it the name
   * @param octets the content, which is wiped when it was looked at
   * @param aside whether it is worth a word only if it holds something: the text of a mail
   */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  record ArchivedFile(Path path, byte[] octets, boolean aside) {}

  /** Whether this can be looked into. */
  static boolean isOne(byte[] octets, Optional<Attachments> mails) {
    return isZip(octets) || (mails.isPresent() && SavedMail.isOne(octets));
  }

  /** Whether these are the first octets of a zip archive that holds something. */
  static boolean isZip(byte[] octets) {
    return octets.length > 30
        && octets[0] == 'P'
        && octets[1] == 'K'
        && octets[2] == 3
        && octets[3] == 4;
  }

  /**
   * Reads an archive, one file after the other.
   *
   * @return why not all of it was read
   */
  static Optional<SymbolonException> read(
      Path path, byte[] octets, Optional<Attachments> mails, Consumer<ArchivedFile> each) {
    Archive archive = new Archive(path, mails, !isZip(octets), each);
    archive.read(path, octets, 1);
    return archive.failure;
  }

  private void read(Path at, byte[] octets, int depth) {
    if (isZip(octets)) {
      unzip(at, octets, depth);
    } else {
      mails(at, octets, depth);
    }
  }

  /** One mail, or a mailbox of several: each begins with a line {@code From } (RFC 4155). */
  private void mails(Path at, byte[] octets, int depth) {
    List<byte[]> all = SavedMail.each(octets);
    for (int i = 0; i < all.size() && failure.isEmpty(); i++) {
      Path folder = all.size() == 1 ? at : named(at, "mail-" + (i + 1));
      try {
        mails
            .orElseThrow()
            .read(all.get(i), (name, text, content) -> file(folder, name, text, content, depth));
      } catch (IOException e) {
        failed(
            Reason.NOT_UNDERSTOOD,
            "The mail is damaged: " + VisibleText.of(String.valueOf(e.getMessage())) + ".");
      } finally {
        if (all.size() > 1) {
          Arrays.fill(all.get(i), (byte) 0); // it is a copy, and may hold a key
        }
      }
    }
  }

  private void unzip(Path at, byte[] octets, int depth) {
    Charset charset = namesAreUtf8(octets) ? StandardCharsets.UTF_8 : OLD_NAMES;
    try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(octets), charset)) {
      for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
        if (entry.isDirectory()) {
          continue;
        }
        if (!file(at, entry.getName(), false, zip, depth)) {
          return;
        }
      }
    } catch (IOException | IllegalArgumentException e) {
      String said = VisibleText.of(String.valueOf(e.getMessage()));
      if (said.contains("encrypted")) {
        failed(Reason.LOCKED, "Its files are under a password of the archive.");
      } else {
        failed(Reason.NOT_UNDERSTOOD, "The archive is damaged: " + said + ".");
      }
    }
  }

  /** Takes one file; false where no more may be taken. */
  private boolean file(Path at, String called, boolean aside, InputStream in, int depth)
      throws IOException {
    if (++files > Limits.ARCHIVE_FILES) {
      failed(Reason.LIMIT_PASSED, "It holds more than " + Limits.ARCHIVE_FILES + " files.");
      return false;
    }
    Path name = named(at, called);
    byte[] content = content(in, name);
    if (failure.isPresent()) {
      return false;
    }
    if (!isOne(content, mails)) {
      each.accept(new ArchivedFile(name, content, aside));
    } else if (depth < Limits.ARCHIVE_DEPTH) {
      read(name, content, depth + 1);
    } else {
      failed(
          Reason.LIMIT_PASSED,
          "Archives lie in it one in the other, more than " + Limits.ARCHIVE_DEPTH + " deep.");
    }
    Arrays.fill(content, (byte) 0);
    return failure.isEmpty();
  }

  private byte[] content(InputStream zip, Path name) throws IOException {
    ByteArrayOutputStream content = new ByteArrayOutputStream();
    byte[] part = new byte[8_192];
    int count;
    while ((count = zip.read(part)) >= 0) {
      left -= count;
      if (left < 0 || content.size() + count > Limits.FILE_BYTES) {
        failed(
            Reason.LIMIT_PASSED,
            left < 0
                ? "Its files have more than " + (Limits.ARCHIVE_BYTES >> 20) + " MiB together."
                : VisibleText.of(name.toString())
                    + " has more than "
                    + (Limits.FILE_BYTES >> 20)
                    + " MiB.");
        break;
      }
      content.write(part, 0, count);
    }
    Arrays.fill(part, (byte) 0);
    return content.toByteArray();
  }

  /** A name in the archive is the sender's: it never leads out of it. */
  private Path named(Path at, String entry) {
    Path name = at;
    for (String part : entry.replace('\\', '/').split("/", -1)) {
      String safe = part.replace("\0", "");
      if (safe.isBlank() || safe.equals(".") || safe.equals("..")) {
        continue;
      }
      try {
        name = name.resolve(at.getFileSystem().getPath(safe).getFileName());
      } catch (InvalidPathException e) {
        name = name.resolve("file-" + files);
      }
    }
    if (name.equals(at)) {
      name = at.resolve("file-" + files);
    }
    Path unique = name;
    for (int i = 2; !names.add(unique); i++) {
      unique = name.resolveSibling(name.getFileName() + " (" + i + ")");
    }
    return unique;
  }

  private void failed(Reason reason, String seen) {
    failure =
        Optional.of(
            new SymbolonException(
                reason,
                (mail ? "The mail " : "The archive ")
                    + VisibleText.of(path.toString())
                    + " was not read"
                    + (files < 2 ? "." : " to its end."),
                seen,
                mail
                    ? "Save its attachments into a folder of your own, and name that folder."
                    : "Unpack it into a folder of your own, and name that folder."));
  }

  /** Whether the first name says that it is UTF-8 (bit 11), or is plain ASCII. */
  private static boolean namesAreUtf8(byte[] octets) {
    if ((octets[7] & 0x08) != 0) {
      return true;
    }
    int length = (octets[26] & 0xFF) | ((octets[27] & 0xFF) << 8);
    for (int i = 30; i < Math.min(octets.length, 30 + length); i++) {
      if (octets[i] < 0) {
        return false;
      }
    }
    return true;
  }
}
