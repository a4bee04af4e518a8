// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.text.VisibleText;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.AclEntryPermission;
import java.nio.file.attribute.AclEntryType;
import java.nio.file.attribute.PosixFilePermission;
import java.util.Optional;

/**
 * Who may read a file that was written.
 *
 * @param readers who
 * @param owner the account that owns it; empty where the file system does not tell
 * @param group its group; empty where the file system does not tell
 * @param lost who could read the file that it replaced and can't read this one, in words
 */
public record Access(Readers readers, String owner, String group, Optional<String> lost) {
  /** Who may read a file. */
  public enum Readers {
    /** Its owner alone. */
    OWNER,
    /** Its owner and its group. */
    GROUP,
    /** Every account of the machine. */
    EVERYBODY,
    /** The file system does not tell. */
    UNKNOWN
  }

  static Access of(Rights rights, Optional<String> lost) {
    if (rights instanceof Rights.Posix posix) {
      return new Access(
          posix.has(PosixFilePermission.OTHERS_READ)
              ? Readers.EVERYBODY
              : posix.has(PosixFilePermission.GROUP_READ) ? Readers.GROUP : Readers.OWNER,
          VisibleText.of(posix.owner().getName()),
          VisibleText.of(posix.group().getName()),
          lost);
    }
    if (rights instanceof Rights.AccessList list) {
      boolean alone = true;
      for (AclEntry entry : list.entries()) {
        alone &=
            entry.type() != AclEntryType.ALLOW
                || entry.principal().equals(list.owner())
                || !entry.permissions().contains(AclEntryPermission.READ_DATA);
      }
      return new Access(
          alone ? Readers.OWNER : Readers.UNKNOWN,
          VisibleText.of(list.owner().getName()),
          "",
          lost);
    }
    return new Access(Readers.UNKNOWN, "", "", lost);
  }
}
