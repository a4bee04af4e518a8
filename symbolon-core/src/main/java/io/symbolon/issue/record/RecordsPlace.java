// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.file.SafeRead;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Optional;
import java.util.ServiceLoader;

/**
 * The file in the folder of an authority that says where its records are, when they are not in the
 * folder's own files. Only its owner may read it: the address of a database can have a password.
 */
final class RecordsPlace {
  static final String NAME = "records.place";

  private static final String FIRST_LINE = "symbolon records place 1";

  private final Path file;

  RecordsPlace(Path folder) {
    this.file = folder.resolve(NAME);
  }

  Path file() {
    return file;
  }

  boolean isSet() {
    return Files.exists(file, LinkOption.NOFOLLOW_LINKS);
  }

  /** Where they are; nothing where they are in the folder's files. */
  Optional<String> read() {
    try {
      byte[] content =
          SafeRead.walked(file, Limits.REGISTER_HEAD_BYTES, Limits.REGISTER_HEAD_BYTES).octets();
      String[] lines = new String(content, StandardCharsets.UTF_8).split("\n", -1);
      if (lines.length != 3 || !lines[0].equals(FIRST_LINE) || lines[1].isBlank()) {
        throw damaged("It does not say where the records are.", null);
      }
      String place = lines[1];
      // An address makes this program go somewhere, with what this account may read on the way.
      if (!place.matches("[a-z]+") && !SafeRead.isOfRootOrUs(file)) {
        throw new SymbolonException(
            Reason.REFUSED,
            "The records of the authority were not opened.",
            VisibleText.of(file.toString())
                + " belongs to another account, and it names a database that this command would log"
                + " in to as you.",
            "Give the command as the account that the folder belongs to.");
      }
      return Optional.of(place);
    } catch (NoSuchFileException e) {
      return Optional.empty();
    } catch (IOException e) {
      throw damaged("The system says: " + VisibleText.of(String.valueOf(e.getMessage())), e);
    }
  }

  private SymbolonException damaged(
      String seen, @org.jspecify.annotations.Nullable Throwable cause) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The records of the authority can't be found: "
            + VisibleText.of(file.toString())
            + " can't be read.",
        seen,
        "Bring the file back from a backup. Do not delete it: the register beside it is an old one.",
        cause);
  }

  void write(String place) {
    if (place.isBlank() || place.chars().anyMatch(Character::isISOControl)) {
      throw new IllegalArgumentException("no place of records");
    }
    Optional<Path> unused =
        SafeFile.write(
            file,
            (FIRST_LINE + "\n" + place + "\n").getBytes(StandardCharsets.UTF_8),
            Privacy.OWNER_ONLY,
            Existing.REPLACE);
  }

  /** The records are in the files of the folder from now on. */
  void clear() {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The file " + VisibleText.of(file.toString()) + " can't be deleted.",
          "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
          "Check the rights of the folder. The records are where they were.",
          e);
    }
  }

  /** The refusal of a program that has the records open where they are no more. */
  static SymbolonException left(String authority) {
    return new SymbolonException(
        Reason.DOES_NOT_FIT,
        "The records of " + authority + " are no longer here.",
        "They were moved while this program ran.",
        "Do it again; the folder is opened anew then. A program that serves is started again.");
  }

  /** Opens records elsewhere. */
  static IssueRecords open(String place, Path folder, Certificate authority) {
    return ServiceLoader.load(IssueRecordsOpener.class)
        .findFirst()
        .orElseThrow(
            () ->
                new SymbolonException(
                    Reason.NOT_FOUND,
                    "The records of the authority can't be opened.",
                    "They are in a database, and this program can't read one.",
                    "Add the module symbolon-acme to it."))
        .open(place, folder, identity(authority));
  }

  /** What tells one authority from another, whenever its certificate was made. */
  static String identity(Certificate authority) {
    return io.symbolon.text.Hex.sha256(authority.publicKey().encoding());
  }
}
