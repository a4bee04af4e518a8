// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermission;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * As whom a program of a described server is run. What an account of the machine could have put in
 * its place is run as that account, and never as root; what everybody could have put there is not
 * run at all.
 */
final class ProgramAccount {
  private static final String ROOT = "root";
  private static final int STICKY = 0x200; // 01000: names belong to the owners of their files

  private ProgramAccount() {}

  /**
   * {@return the account to run a program as; nothing where it may run as whoever runs this}
   *
   * @param program the program, by its whole path
   * @throws SymbolonException if more than one account could change it
   */
  static Optional<String> of(Path program) {
    if (!ROOT.equals(System.getProperty("user.name"))) {
      return Optional.empty();
    }
    Set<String> accounts = new TreeSet<>();
    try {
      for (Path path = program.toRealPath(); path != null; path = path.getParent()) {
        PosixFileAttributes attributes = Files.readAttributes(path, PosixFileAttributes.class);
        accounts.add(attributes.owner().getName());
        boolean sticky = attributes.isDirectory() && isSticky(path);
        Set<PosixFilePermission> mode = attributes.permissions();
        if (!sticky && mode.contains(PosixFilePermission.OTHERS_WRITE)) {
          throw refused(program, "Everybody on this machine can change it: " + path + ".");
        }
        if (!sticky && mode.contains(PosixFilePermission.GROUP_WRITE)) {
          String group = attributes.group().getName();
          if (!group.equals(ROOT) && !group.equals(attributes.owner().getName())) {
            throw refused(program, "The group " + group + " can change it: " + path + ".");
          }
        }
      }
    } catch (NoSuchFileException e) {
      return Optional.empty(); // that it can't be started is told when it is started
    } catch (IOException | UnsupportedOperationException e) {
      throw refused(program, "Who can change it could not be found out.");
    }
    accounts.remove(ROOT);
    if (accounts.size() > 1) {
      throw refused(
          program, "Several accounts can change it: " + String.join(", ", accounts) + ".");
    }
    return accounts.stream().findFirst();
  }

  private static boolean isSticky(Path path) throws IOException {
    return Files.getAttribute(path, "unix:mode") instanceof Integer mode && (mode & STICKY) != 0;
  }

  static SymbolonException refused(Path program, String seen) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "The program " + VisibleText.of(program.toString()) + " is not run.",
        VisibleText.of(seen),
        "Let it and its folders belong to root or to one account, without rights to write for others.");
  }
}
