// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.file.SafeRead;
import io.symbolon.issue.Authority;
import io.symbolon.limit.Limits;
import io.symbolon.text.Hex;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The file in which an authority writes down what it signs before it hands it out: one line for
 * each certificate, with the certificate itself, and one for each revocation. Lines are only ever
 * added, and each ends with the beginning of its own SHA-256, so that damage shows. Whoever calls
 * holds the folder's lock.
 */
final class Register {
  static final String NAME = "register";

  private static final String FIRST_LINE = "symbolon register 1\n";
  private static final int CHECK_LENGTH = 16;

  private final Path file;
  private final Map<BigInteger, Certificate> issued = new LinkedHashMap<>();
  private final Map<BigInteger, Authority.Revocation> revoked = new LinkedHashMap<>();
  private long understood; // octets
  private Optional<Object> identity = Optional.empty();

  Register(Path file) {
    this.file = file;
  }

  /** What reading it came upon. */
  enum EntryState {
    /** Nothing that is wrong. */
    SOUND,
    /** The last line was never finished: what it tells of was never handed out. */
    UNFINISHED,
    /** A line is damaged, or the file is missing. */
    DAMAGED
  }

  Map<BigInteger, Certificate> issued() {
    return issued;
  }

  Map<BigInteger, Authority.Revocation> revoked() {
    return revoked;
  }

  static byte[] empty() {
    return FIRST_LINE.getBytes(StandardCharsets.US_ASCII);
  }

  /** Reads what was added since it was last read, by this process or another. */
  EntryState refresh() {
    try {
      BasicFileAttributes attributes = Files.readAttributes(file, BasicFileAttributes.class);
      Optional<Object> now = Optional.ofNullable(attributes.fileKey());
      if (!now.equals(identity) || attributes.size() < understood) {
        understood = 0; // another process has written it anew
        issued.clear();
        revoked.clear();
        identity = now;
      }
      return read();
    } catch (java.nio.file.NoSuchFileException e) {
      return EntryState.DAMAGED;
    } catch (IOException e) {
      throw failed("read", e);
    }
  }

  private EntryState read() throws IOException {
    byte[] added = added();
    int start = 0;
    if (understood == 0) {
      byte[] first = empty();
      if (added.length < first.length
          || !java.util.Arrays.equals(first, 0, first.length, added, 0, first.length)) {
        return EntryState.DAMAGED;
      }
      start = first.length;
    }
    EntryState state = EntryState.SOUND;
    for (int at = start; at < added.length; at++) {
      if (added[at] == '\n') {
        if (!take(new String(added, start, at - start, StandardCharsets.US_ASCII))) {
          state = EntryState.DAMAGED; // reading goes on: what is sound behind it counts
        }
        start = at + 1;
      }
    }
    if (state == EntryState.SOUND && start < added.length) {
      state = EntryState.UNFINISHED;
    }
    understood += start;
    return state;
  }

  private byte[] added() throws IOException {
    try (FileChannel channel =
        FileChannel.open(file, StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS)) {
      long length = channel.size() - understood;
      if (length > 20L * Limits.FILE_BYTES) {
        throw new SymbolonException(
            Reason.LIMIT_PASSED,
            "The register " + VisibleText.of(file.toString()) + " is too large.",
            "It has " + length + " octets.",
            "Found a new authority.");
      }
      ByteBuffer buffer = ByteBuffer.allocate((int) length);
      channel.position(understood);
      while (buffer.hasRemaining() && channel.read(buffer) >= 0) {
        // until all of it is there
      }
      return java.util.Arrays.copyOf(buffer.array(), buffer.position());
    }
  }

  private boolean take(String line) {
    int space = line.lastIndexOf(' ');
    if (space < 0 || !line.substring(space + 1).equals(check(line.substring(0, space)))) {
      return false;
    }
    String[] words = line.substring(0, space).split(" ", -1);
    try {
      if (words.length == 2 && words[0].equals("issued")) {
        Certificate certificate = Certificate.read(Base64.getDecoder().decode(words[1]));
        issued.put(certificate.serial(), certificate);
        return true;
      }
      if (words.length == 4 && words[0].equals("revoked")) {
        BigInteger serial = new BigInteger(words[1], 16);
        Optional<RevocationReason> reason = RevocationReason.ofWord(words[3]);
        revoked.put(
            serial,
            new Authority.Revocation(serial, Instant.parse(words[2]), reason.orElseThrow()));
        return true;
      }
      return false;
    } catch (IllegalArgumentException
        | DateTimeException
        | java.util.NoSuchElementException
        | SymbolonException e) {
      return false;
    }
  }

  private static String check(String line) {
    return Hex.sha256(line.getBytes(StandardCharsets.US_ASCII)).substring(0, CHECK_LENGTH);
  }

  private static String issuedLine(Certificate certificate) {
    return checked("issued " + Base64.getEncoder().encodeToString(certificate.encoding()));
  }

  private static String revokedLine(Authority.Revocation one) {
    return checked(
        "revoked " + one.serial().toString(16) + " " + one.when() + " " + one.reason().word());
  }

  private static String checked(String line) {
    return line + " " + check(line) + "\n";
  }

  /** Writes certificates down, on the disk when this returns. */
  void issue(Collection<Certificate> certificates) {
    if (certificates.isEmpty()) {
      return;
    }
    StringBuilder lines = new StringBuilder();
    certificates.forEach(certificate -> lines.append(issuedLine(certificate)));
    append(lines.toString());
    certificates.forEach(certificate -> issued.put(certificate.serial(), certificate));
  }

  /** Writes revocations down. */
  void revoke(Collection<Authority.Revocation> all) {
    StringBuilder lines = new StringBuilder();
    all.forEach(one -> lines.append(revokedLine(one)));
    append(lines.toString());
    all.forEach(one -> revoked.put(one.serial(), one));
  }

  private void append(String lines) {
    byte[] content = lines.getBytes(StandardCharsets.US_ASCII);
    try {
      SafeFile.append(file, understood, content, true); // an unfinished line is cut off
      understood += content.length;
    } catch (IOException e) {
      throw failed("written", e);
    }
  }

  /** Writes it anew; the file as it was is kept for undo. */
  void rewrite(Collection<Certificate> certificates, Collection<Authority.Revocation> revocations) {
    StringBuilder lines = new StringBuilder(FIRST_LINE);
    certificates.forEach(certificate -> lines.append(issuedLine(certificate)));
    revocations.forEach(one -> lines.append(revokedLine(one)));
    SafeFile.write(
        file,
        lines.toString().getBytes(StandardCharsets.US_ASCII),
        Privacy.SYSTEM_DEFAULT,
        Existing.REPLACE);
    identity = Optional.empty();
    EntryState unused = refresh();
  }

  /**
   * The whole file, for its signed head; what is behind the last line that was understood is not.
   */
  byte[] content() {
    try {
      byte[] all = SafeRead.named(file, 20 * Limits.FILE_BYTES, Limits.HEAD_BYTES).octets();
      return java.util.Arrays.copyOf(all, (int) Math.min(all.length, understood));
    } catch (java.nio.file.NoSuchFileException e) {
      return new byte[0];
    } catch (IOException e) {
      throw failed("read", e);
    }
  }

  List<Certificate> certificates() {
    return new ArrayList<>(issued.values());
  }

  private SymbolonException failed(String done, IOException e) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "The register " + VisibleText.of(file.toString()) + " can't be " + done + ".",
        "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
        "Check the rights and the free space of the folder; nothing was handed out.",
        e);
  }
}
