// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.pem.PemWriter;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

/**
 * The certificates an authority has issued, one behind the other in a PEM file. It is for people
 * and a second copy for the register: where a crash has left it short it is written again from
 * there, and a register that is damaged from here. One file and not one each, because a thousand
 * new files cost as much time as a thousand signatures. Whoever calls holds the folder's lock.
 */
final class CertificateBundle {
  static final String NAME = "certificates.pem";

  private static final int FRAME =
      "-----BEGIN CERTIFICATE-----\n-----END CERTIFICATE-----\n".length();
  private static final int LINE = 64; // characters of Base64

  private final Path file;

  CertificateBundle(Path file) {
    this.file = file;
  }

  Path file() {
    return file;
  }

  /**
   * Adds certificates behind those that are there; writes all anew where the file is not as long as
   * it should be.
   *
   * @param before those that should be there
   */
  void add(Collection<Certificate> before, Collection<Certificate> added) {
    long expected = length(before);
    if (length() != expected) {
      List<Certificate> all = new ArrayList<>(before);
      all.addAll(added);
      write(all);
      return;
    }
    try {
      SafeFile.append(file, expected, pem(added), false);
    } catch (IOException e) {
      throw failed(e);
    }
  }

  /** Whether the file is as long as these certificates make it. */
  boolean isWhole(Collection<Certificate> issued) {
    return length() == length(issued);
  }

  /** Every sound certificate in it. */
  List<Certificate> read() {
    return Files.exists(file) ? read(file) : List.of();
  }

  static List<Certificate> read(Path file) {
    return Surveyor.create().survey(List.of(file)).files().stream()
        .map(FileSurvey::holdings)
        .flatMap(List::stream)
        .filter(Holding.Cert.class::isInstance)
        .map(holding -> ((Holding.Cert) holding).certificate())
        .toList();
  }

  /** Writes all of it anew; what was there is kept for undo. */
  void write(Collection<Certificate> certificates) {
    SafeFile.write(file, pem(certificates), Privacy.SYSTEM_DEFAULT, Existing.REPLACE);
  }

  private static byte[] pem(Collection<Certificate> certificates) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (Certificate certificate : certificates) {
      out.writeBytes(PemWriter.write("CERTIFICATE", certificate.encoding()));
    }
    return out.toByteArray();
  }

  private long length() {
    try {
      return Files.exists(file) ? Files.size(file) : 0;
    } catch (IOException e) {
      throw failed(e);
    }
  }

  private static long length(Collection<Certificate> certificates) {
    return certificates.stream().mapToLong(one -> pemLength(one.length())).sum();
  }

  private static long pemLength(int octets) {
    long characters = 4L * ((octets + 2) / 3);
    return FRAME + characters + (characters + LINE - 1) / LINE;
  }

  private SymbolonException failed(IOException e) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "The file " + VisibleText.of(file.toString()) + " can't be written.",
        "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
        "Check the rights and the free space; what was signed is in the register.",
        e);
  }
}
