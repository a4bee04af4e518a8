package io.symbolon.issue;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.pem.PemWriter;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * The certificates an authority has issued, each in a file named after its serial number. They are
 * for people and a second copy for the register: a file that a crash has left short is written
 * again from there, and a register that is damaged from here.
 */
final class CertificateFiles {
  static final String NAME = "certificates";

  private static final String ENDING = ".pem";

  private final Path folder;

  CertificateFiles(Path folder) {
    this.folder = folder;
  }

  Path file(Certificate certificate) {
    return folder.resolve(certificate.serialHex() + ENDING);
  }

  /** Writes a file under another name first: it is never seen half. */
  void write(Collection<Certificate> certificates) {
    try {
      Files.createDirectories(folder);
      for (Certificate certificate : certificates) {
        Path unnamed = folder.resolve("." + certificate.serialHex());
        Files.write(unnamed, PemWriter.write("CERTIFICATE", certificate.encoding()));
        Files.move(
            unnamed,
            file(certificate),
            StandardCopyOption.ATOMIC_MOVE,
            StandardCopyOption.REPLACE_EXISTING);
      }
    } catch (IOException e) {
      throw failed(e);
    }
  }

  /** The files that are there, with their length in octets. */
  private Map<Path, Long> lengths() {
    Map<Path, Long> lengths = new HashMap<>();
    if (!Files.isDirectory(folder)) {
      return lengths;
    }
    try (DirectoryStream<Path> files = Files.newDirectoryStream(folder)) {
      for (Path file : files) {
        String name = String.valueOf(file.getFileName());
        if (name.startsWith(".")) {
          Files.deleteIfExists(file); // what a crash left; its certificate is in the register
        } else {
          lengths.put(file, Files.size(file));
        }
      }
    } catch (IOException e) {
      throw failed(e);
    }
    return lengths;
  }

  /**
   * Writes what is in the register and not, or not whole, among the files.
   *
   * @return the files that the register does not know
   */
  List<Path> complete(Map<BigInteger, Certificate> issued) {
    Map<Path, Long> lengths = lengths();
    for (Certificate certificate : issued.values()) {
      Long length = lengths.remove(file(certificate));
      if (length == null || length != pemLength(certificate.length())) {
        write(List.of(certificate));
      }
    }
    return lengths.keySet().stream().sorted().toList();
  }

  /** Every certificate in a list of files. */
  static List<Certificate> read(List<Path> files) {
    return Surveyor.create().survey(files).files().stream()
        .map(FileSurvey::holdings)
        .flatMap(List::stream)
        .filter(Holding.Cert.class::isInstance)
        .map(holding -> ((Holding.Cert) holding).certificate())
        .toList();
  }

  private static long pemLength(int octets) {
    long characters = 4L * ((octets + 2) / 3);
    long lines = (characters + 63) / 64;
    return "-----BEGIN CERTIFICATE-----\n-----END CERTIFICATE-----\n".length() + characters + lines;
  }

  private SymbolonException failed(IOException e) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "The folder " + VisibleText.of(folder.toString()) + " can't be written.",
        "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
        "Check the rights and the free space; what was signed is in the register.",
        e);
  }
}
