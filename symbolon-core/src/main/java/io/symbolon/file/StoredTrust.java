// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Optional;

/**
 * Whether what is stored may be believed, where it leads to a program that is started or to a place
 * that is written: every file, its folder and the way to it belong to root or to the account that
 * this process runs as, and nobody else can write there.
 */
public final class StoredTrust {
  private StoredTrust() {}

  /**
   * Refuses a file that somebody else could have written.
   *
   * @param file the file; one that is not there is passed over
   * @param what what it is, for a sentence: "The description"
   * @throws SymbolonException if somebody else controls it, with the path and the owner
   */
  public static void check(Path file, String what) {
    try {
      Optional<PathControl.Stranger> stranger = PathControl.of(file).stranger();
      if (stranger.isPresent()) {
        throw refused(file, what, stranger.get());
      }
    } catch (NoSuchFileException e) {
      // there is nothing to be believed
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          what + " in " + NotWritten.shown(file) + " was not used.",
          "Who can change it could not be found out: " + NotWritten.message(e) + ".",
          "Check the rights of its folders.",
          e);
    }
  }

  /**
   * The same for a folder and each file in it.
   *
   * @throws SymbolonException if somebody else controls a part of it
   */
  public static void checkFolder(Path folder, String what) {
    check(folder, what);
    try (DirectoryStream<Path> files = Files.newDirectoryStream(folder)) {
      for (Path file : files) {
        check(file, what);
      }
    } catch (IOException | DirectoryIteratorException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          what + " in " + NotWritten.shown(folder) + " was not used.",
          "The folder can't be listed.",
          "Check its rights.",
          e);
    }
  }

  private static SymbolonException refused(Path file, String what, PathControl.Stranger stranger) {
    return new SymbolonException(
        Reason.NOT_TRUSTED,
        what + " in " + NotWritten.shown(file) + " was not used.",
        stranger.sentence() + " Somebody else could have written what it says.",
        stranger
            .account()
            .map(
                account ->
                    "Give the command as that account: runuser -u "
                        + io.symbolon.text.VisibleText.of(account)
                        + " -- symbolon ... Or let all of it belong to you.")
            .orElse(
                "Let it and its folders belong to you or to root, without rights to write for"
                    + " others."));
  }
}
