// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Path;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.AclEntryPermission;
import java.nio.file.attribute.AclEntryType;
import java.nio.file.attribute.GroupPrincipal;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.UserPrincipal;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The rights that a new file gets.
 *
 * <p>One that replaces another keeps its owner and group, so that a server that could read the old
 * one can read the new. Of the mode of the old one a private file takes what its owner may, and
 * that its group may read it where everybody else could not: then that was meant. What the group
 * may beyond reading, and what everybody may, it never takes.
 *
 * @param rights what the file shall get
 * @param lost who could read the old file and can't read the new one, in words
 */
record ResultRights(Rights rights, Optional<String> lost) {
  /**
   * The rights of a file.
   *
   * @param folder where it will lie
   * @param made the rights that it got when it was made there
   * @param old the rights of the one it replaces
   */
  static ResultRights of(
      OpenFolder folder, Rights made, Optional<Rights> old, Privacy privacy, Optional<Owner> owner)
      throws IOException {
    if (made instanceof Rights.Posix fresh) {
      return posix(folder.path(), fresh, old, privacy, owner);
    }
    if (made instanceof Rights.AccessList fresh) {
      return list(folder, fresh, old, privacy, owner);
    }
    return new ResultRights(made, Optional.empty());
  }

  /**
   * With access lists a file belongs to whoever makes it. An owner that is asked for may read it,
   * and of a private file that is replaced each account that was let in by name still may.
   */
  private static ResultRights list(
      OpenFolder folder,
      Rights.AccessList made,
      Optional<Rights> old,
      Privacy privacy,
      Optional<Owner> owner)
      throws IOException {
    boolean replaces = old.isPresent() && old.get() instanceof Rights.AccessList;
    Rights.AccessList before = replaces ? (Rights.AccessList) old.orElseThrow() : made;
    boolean open = privacy == Privacy.SYSTEM_DEFAULT;
    List<AclEntry> entries = new ArrayList<>(open ? before.entries() : made.entries());
    Optional<String> lost = Optional.empty();
    if (owner.isPresent()) {
      entries.add(reader(owner.get().principal(folder.path().getFileSystem())));
      Optional<GroupPrincipal> group = owner.get().groupPrincipal(folder.path().getFileSystem());
      group.ifPresent(one -> entries.add(reader(one)));
    } else if (!open && replaces) {
      for (AclEntry entry : before.entries()) {
        boolean reads =
            entry.type() == AclEntryType.ALLOW
                && entry.permissions().contains(AclEntryPermission.READ_DATA);
        if (reads && FolderGuard.isBroad(entry.principal())) {
          lost = Optional.of(VisibleText.of(entry.principal().getName()));
        } else if (reads && !names(made, entry.principal())) {
          entries.add(reader(entry.principal()));
        }
      }
    }
    return new ResultRights(
        new Rights.AccessList(
            open ? before.owner() : made.owner(), entries.stream().distinct().toList()),
        lost);
  }

  private static boolean names(Rights.AccessList list, UserPrincipal who) {
    return list.entries().stream().anyMatch(one -> one.principal().equals(who));
  }

  private static AclEntry reader(UserPrincipal who) {
    return AclEntry.newBuilder()
        .setType(AclEntryType.ALLOW)
        .setPrincipal(who)
        .setPermissions(
            AclEntryPermission.READ_DATA,
            AclEntryPermission.READ_ATTRIBUTES,
            AclEntryPermission.READ_NAMED_ATTRS,
            AclEntryPermission.READ_ACL,
            AclEntryPermission.SYNCHRONIZE)
        .build();
  }

  private static ResultRights posix(
      Path folder, Rights.Posix fresh, Optional<Rights> old, Privacy privacy, Optional<Owner> owner)
      throws IOException {
    Rights.Posix before = old.isPresent() && old.get() instanceof Rights.Posix posix ? posix : null;
    Set<PosixFilePermission> mode = EnumSet.noneOf(PosixFilePermission.class);
    Optional<String> lost = Optional.empty();
    if (privacy == Privacy.SYSTEM_DEFAULT) {
      mode.addAll(before == null ? PublicMode.permissions() : before.permissions());
    } else if (before == null) {
      mode.addAll(fresh.permissions());
    } else {
      mode.addAll(before.permissions());
      mode.removeIf(right -> !right.name().startsWith("OWNER_"));
      mode.add(PosixFilePermission.OWNER_READ);
      boolean groupRead = before.has(PosixFilePermission.GROUP_READ);
      if (groupRead && !before.has(PosixFilePermission.OTHERS_READ)) {
        mode.add(PosixFilePermission.GROUP_READ);
      } else if (groupRead || before.has(PosixFilePermission.OTHERS_READ)) {
        lost = Optional.of("everybody on this machine");
      }
    }
    if (owner.isPresent()) {
      Optional<GroupPrincipal> group = owner.get().groupPrincipal(folder.getFileSystem());
      if (group.isPresent()) {
        mode.add(PosixFilePermission.GROUP_READ);
      } else if (privacy == Privacy.OWNER_ONLY) {
        mode.remove(PosixFilePermission.GROUP_READ);
      }
      return new ResultRights(
          new Rights.Posix(
              owner.get().principal(folder.getFileSystem()),
              group.orElse(before == null ? fresh.group() : before.group()),
              Set.copyOf(mode)),
          lost);
    }
    return new ResultRights(
        new Rights.Posix(
            before == null ? fresh.owner() : before.owner(),
            before == null ? fresh.group() : before.group(),
            Set.copyOf(mode)),
        lost);
  }

  /**
   * The same for an account that may not give files away: the file is its own, and the old group
   * reads it only where it is the new one's group as well.
   */
  ResultRights own(Rights made) {
    if (!(rights instanceof Rights.Posix wanted) || !(made instanceof Rights.Posix fresh)) {
      return this;
    }
    Set<PosixFilePermission> mode = EnumSet.noneOf(PosixFilePermission.class);
    mode.addAll(wanted.permissions());
    boolean sameGroup = wanted.group().equals(fresh.group());
    if (!sameGroup) {
      mode.removeIf(right -> right.name().startsWith("GROUP_"));
    }
    String before =
        "the account "
            + VisibleText.of(wanted.owner().getName())
            + (sameGroup ? "" : " and the group " + VisibleText.of(wanted.group().getName()));
    return new ResultRights(
        new Rights.Posix(fresh.owner(), fresh.group(), Set.copyOf(mode)),
        Optional.of(lost.map(one -> one + ", " + before).orElse(before)));
  }
}
