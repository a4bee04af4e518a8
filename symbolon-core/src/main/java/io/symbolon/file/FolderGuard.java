// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
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
import java.nio.file.attribute.UserPrincipal;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Who else can change what is in a folder, and what may therefore not be put there. */
final class FolderGuard {
  private static final int STICKY = 0x200; // 01000: names belong to the owners of their files
  private static final Set<AclEntryPermission> CHANGING =
      EnumSet.of(
          AclEntryPermission.WRITE_DATA, // of a folder: to add files
          AclEntryPermission.DELETE_CHILD,
          AclEntryPermission.WRITE_ACL,
          AclEntryPermission.WRITE_OWNER);
  private static final List<String> BROAD =
      List.of("everyone", "users", "authenticated users", "guests", "domain users");

  private FolderGuard() {}

  /** Whether the mode lets the group or everybody write. */
  static boolean othersMayWrite(Set<PosixFilePermission> permissions) {
    return permissions.contains(PosixFilePermission.GROUP_WRITE)
        || permissions.contains(PosixFilePermission.OTHERS_WRITE);
  }

  /** Whether nobody but root and this process's account can change what is in a folder. */
  static boolean isOursAlone(Rights.Posix rights) {
    return SystemAccounts.isRootOrUs(rights.owner()) && strangers(rights).isEmpty();
  }

  /** The same of a folder by its name; where the system has no owners and modes, it is. */
  static boolean isOursAlone(Path folder) throws IOException {
    return !(Rights.of(folder) instanceof Rights.Posix rights) || isOursAlone(rights);
  }

  /** Whether a link in a folder can have been placed by root or this process's account alone. */
  static boolean mayFollow(OpenFolder folder, Rights.Posix link) throws IOException {
    if (!(folder.rights() instanceof Rights.Posix rights)) {
      return true;
    }
    return isOursAlone(rights)
        || (SystemAccounts.isRootOrUs(rights.owner())
            && SystemAccounts.isRootOrUs(link.owner())
            && isSticky(folder));
  }

  /** Who besides its owner may change what is in a folder, in words; nothing if nobody. */
  private static Optional<String> strangers(Rights.Posix rights) {
    if (rights.has(PosixFilePermission.OTHERS_WRITE)) {
      return Optional.of("everybody on this machine");
    }
    if (rights.has(PosixFilePermission.GROUP_WRITE)
        && !SystemAccounts.isAlone(rights.group(), rights.owner())) {
      return Optional.of("the group " + VisibleText.of(rights.group().getName()));
    }
    return Optional.empty();
  }

  private static boolean isSticky(OpenFolder folder) throws IOException {
    return isSticky(folder.path())
        && java.util.Objects.equals(
            Files.readAttributes(
                    folder.path(),
                    java.nio.file.attribute.BasicFileAttributes.class,
                    LinkOption.NOFOLLOW_LINKS)
                .fileKey(),
            folder.attributes().fileKey());
  }

  /** Whether the names in a folder belong to the owners of their files. */
  static boolean isSticky(Path folder) throws IOException {
    try {
      Object mode = Files.getAttribute(folder, "unix:mode", LinkOption.NOFOLLOW_LINKS);
      return mode instanceof Integer number && (number & STICKY) != 0;
    } catch (UnsupportedOperationException | IllegalArgumentException e) {
      return false;
    }
  }

  /**
   * Refuses to put a private file into a folder in which somebody else could put another in its
   * place.
   *
   * @param result the rights that the file shall have
   * @param old the rights of the file that is replaced, if there is one
   * @throws SymbolonException if somebody else can change the folder
   */
  static void checkPrivate(OpenFolder folder, Path target, Rights result, Optional<Rights> old)
      throws IOException {
    Rights rights = folder.rights();
    if (rights instanceof Rights.AccessList list) {
      checkList(list, folder, target);
    }
    if (!(rights instanceof Rights.Posix posix) || !(result instanceof Rights.Posix wanted)) {
      return;
    }
    String shown = NotWritten.shown(folder.path());
    Optional<String> strangers = strangers(posix);
    if (strangers.isPresent() && !isSticky(folder)) {
      throw refused(
          target,
          "The folder " + shown + " can be changed by " + strangers.get() + ".",
          Remedy.of(
              "Close the folder to others, or write into another one.",
              Action.of(Task.CLOSE_FOLDER, folder.path())));
    }
    UserPrincipal owner = wanted.owner();
    if (!SystemAccounts.isRootOrUs(posix.owner()) && !posix.owner().equals(owner)) {
      String name = VisibleText.of(posix.owner().getName());
      throw refused(
          target,
          "The folder "
              + shown
              + " belongs to "
              + name
              + ", who could put another file in the place of this one.",
          Remedy.of(
              "Write into a folder of your own; or, if the file is for that account, let it belong to it.",
              Action.again().with(Input.OWNER, posix.owner().getName())));
    }
    if (strangers.isPresent()
        && old.isPresent()
        && old.get() instanceof Rights.Posix before
        && !SystemAccounts.isRootOrUs(before.owner())
        && !before.owner().equals(posix.owner())) {
      throw refused(
          target,
          "In the folder "
              + shown
              + " anybody may place files, and the one of this name belongs to "
              + VisibleText.of(before.owner().getName())
              + ".",
          "Write into another folder.");
    }
  }

  /** Whether an entry of an access list is for many accounts. */
  static boolean isBroad(UserPrincipal principal) {
    String full = principal.getName();
    return BROAD.contains(full.substring(full.lastIndexOf('\\') + 1).toLowerCase(Locale.ROOT));
  }

  private static void checkList(Rights.AccessList list, OpenFolder folder, Path target) {
    for (AclEntry entry : list.entries()) {
      if (entry.type() == AclEntryType.ALLOW
          && isBroad(entry.principal())
          && entry.permissions().stream().anyMatch(CHANGING::contains)) {
        throw refused(
            target,
            "The folder "
                + NotWritten.shown(folder.path())
                + " can be changed by "
                + VisibleText.of(entry.principal().getName())
                + ".",
            "Take that right away in the folder's security settings, or write into another"
                + " folder.");
      }
    }
  }

  private static SymbolonException refused(Path target, String seen, String advice) {
    return refused(target, seen, Remedy.of(advice));
  }

  private static SymbolonException refused(Path target, String seen, Remedy remedy) {
    return NotWritten.refused(
        Reason.NOT_WRITABLE, target, seen + " A private key would not be safe there.", remedy);
  }
}
