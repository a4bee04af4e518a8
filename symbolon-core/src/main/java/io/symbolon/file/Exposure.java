// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.AclEntryPermission;
import java.nio.file.attribute.AclEntryType;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Optional;
import java.util.Set;

/**
 * Who besides its owner can do something with a file.
 *
 * @param readers who can read it, in words; nothing if nobody
 * @param writers who can change it, in words; nothing if nobody
 * @param everybody whether that is every account of the machine
 * @param forService whether root owns it and one group may read it and nobody change it: as servers
 *     want a key that they read under an account of their own
 */
public record Exposure(
    Path file,
    Optional<String> readers,
    Optional<String> writers,
    boolean everybody,
    boolean forService) {
  /** What a key has at most that root owns and a service reads: 0640. */
  private static final Set<PosixFilePermission> SERVICE =
      PosixFilePermissions.fromString("rw-r-----");

  /**
   * {@return who can do something with a file; nothing if its owner (and root) alone can, or it is
   * no ordinary file, or the file system does not tell}
   */
  public static Optional<Exposure> of(Path file) {
    try {
      Path real = file.toRealPath();
      if (!Files.isRegularFile(real, LinkOption.NOFOLLOW_LINKS)) {
        return Optional.empty();
      }
      return of(file, Rights.of(real));
    } catch (IOException e) {
      return Optional.empty(); // it was just read; another process has taken it away
    }
  }

  private static Optional<Exposure> of(Path file, Rights rights) {
    Optional<String> readers = Optional.empty();
    Optional<String> writers = Optional.empty();
    boolean everybody = false;
    boolean forService = false;
    if (rights instanceof Rights.Posix posix) {
      readers = who(posix, PosixFilePermission.GROUP_READ, PosixFilePermission.OTHERS_READ);
      writers = who(posix, PosixFilePermission.GROUP_WRITE, PosixFilePermission.OTHERS_WRITE);
      everybody =
          posix.has(PosixFilePermission.OTHERS_READ) || posix.has(PosixFilePermission.OTHERS_WRITE);
      forService = SERVICE.containsAll(posix.permissions()) && SystemAccounts.isRoot(posix.owner());
    } else if (rights instanceof Rights.AccessList list) {
      readers = who(list, AclEntryPermission.READ_DATA);
      writers = who(list, AclEntryPermission.WRITE_DATA);
    }
    return readers.isEmpty() && writers.isEmpty()
        ? Optional.empty()
        : Optional.of(new Exposure(file, readers, writers, everybody, forService));
  }

  private static Optional<String> who(
      Rights.Posix rights, PosixFilePermission group, PosixFilePermission others) {
    if (rights.has(others)) {
      return Optional.of("every user of this machine");
    }
    return rights.has(group)
        ? Optional.of("the group " + VisibleText.of(rights.group().getName()))
        : Optional.empty();
  }

  private static Optional<String> who(Rights.AccessList list, AclEntryPermission permission) {
    for (AclEntry entry : list.entries()) {
      if (entry.type() == AclEntryType.ALLOW
          && entry.permissions().contains(permission)
          && FolderGuard.isBroad(entry.principal())) {
        return Optional.of(VisibleText.of(entry.principal().getName()));
      }
    }
    return Optional.empty();
  }

  /** {@return what is to be said of a file with a password} */
  public Finding ofPassword() {
    String who = writers.isPresent() ? writers.get() : readers.orElse("");
    return Finding.of(
        FindingKind.PASSWORD_FILE_OPEN,
        VisibleText.of(file.toString()),
        "The file with the password can be "
            + (writers.isPresent() ? "changed" : "read")
            + " by "
            + who
            + ".",
        Remedy.of("Let its owner alone read it.", Action.of(Task.CLOSE_FILE, file)));
  }
}
