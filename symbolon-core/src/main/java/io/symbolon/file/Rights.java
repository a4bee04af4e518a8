// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.AclEntryFlag;
import java.nio.file.attribute.AclEntryPermission;
import java.nio.file.attribute.AclEntryType;
import java.nio.file.attribute.AclFileAttributeView;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.GroupPrincipal;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.nio.file.attribute.UserPrincipal;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;

/** Who may do what with a file: owner, group and mode, or an access list. */
sealed interface Rights {
  /** Gives them to a file, by its name. */
  void applyTo(Path file) throws IOException;

  /** Owner, group and mode. */
  record Posix(UserPrincipal owner, GroupPrincipal group, Set<PosixFilePermission> permissions)
      implements Rights {
    static Posix of(PosixFileAttributes attributes) {
      return new Posix(
          attributes.owner(), attributes.group(), Set.copyOf(attributes.permissions()));
    }

    boolean has(PosixFilePermission permission) {
      return permissions.contains(permission);
    }

    Posix with(Set<PosixFilePermission> other) {
      return new Posix(owner, group, Set.copyOf(other));
    }

    @Override
    public void applyTo(Path file) throws IOException {
      PosixFileAttributeView view =
          Files.getFileAttributeView(file, PosixFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
      view.setGroup(group);
      view.setPermissions(permissions);
      view.setOwner(owner);
    }
  }

  /** An access list. */
  record AccessList(UserPrincipal owner, List<AclEntry> entries) implements Rights {
    /** Copies the entries. */
    public AccessList {
      entries = List.copyOf(entries);
    }

    @Override
    public void applyTo(Path file) throws IOException {
      AclFileAttributeView view =
          Files.getFileAttributeView(file, AclFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
      view.setAcl(entries);
      if (!view.getOwner().equals(owner)) {
        view.setOwner(owner);
      }
    }
  }

  /** The file system has no rights. */
  record None() implements Rights {
    @Override
    public void applyTo(Path file) {}
  }

  /** The rights of a file or folder, of a link itself. */
  static Rights of(Path file) throws IOException {
    Set<String> views = file.getFileSystem().supportedFileAttributeViews();
    if (views.contains("posix")) {
      return Posix.of(
          Files.readAttributes(file, PosixFileAttributes.class, LinkOption.NOFOLLOW_LINKS));
    }
    if (views.contains("acl")) {
      AclFileAttributeView view =
          Files.getFileAttributeView(file, AclFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
      return new AccessList(view.getOwner(), view.getAcl());
    }
    return new None();
  }

  /**
   * What makes a new file or folder its owner's alone, given when it is made.
   *
   * @param beside a path of the same file system
   */
  static FileAttribute<?>[] ownerOnly(Path beside, boolean folder) {
    Set<String> views = beside.getFileSystem().supportedFileAttributeViews();
    if (views.contains("posix")) {
      return new FileAttribute<?>[] {
        PosixFilePermissions.asFileAttribute(
            PosixFilePermissions.fromString(folder ? "rwx------" : "rw-------"))
      };
    }
    if (views.contains("acl")) {
      return new FileAttribute<?>[] {new ListAttribute(ownerOnlyList(beside, folder))};
    }
    return new FileAttribute<?>[0];
  }

  /** Makes a new file or folder its owner's alone where that could not be said at its creation. */
  static void giveOwnerOnly(Path file, boolean folder) throws IOException {
    AclFileAttributeView view =
        Files.getFileAttributeView(file, AclFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
    if (view != null) {
      view.setAcl(ownerOnlyList(file, folder));
    }
  }

  private static List<AclEntry> ownerOnlyList(Path beside, boolean folder) {
    AclEntry.Builder entry =
        AclEntry.newBuilder()
            .setType(AclEntryType.ALLOW)
            .setPrincipal(account(beside))
            .setPermissions(EnumSet.allOf(AclEntryPermission.class));
    if (folder) {
      entry.setFlags(AclEntryFlag.FILE_INHERIT, AclEntryFlag.DIRECTORY_INHERIT);
    }
    return List.of(entry.build());
  }

  /** The account of this process, as this file system names it. */
  private static UserPrincipal account(Path beside) {
    try {
      return beside
          .getFileSystem()
          .getUserPrincipalLookupService()
          .lookupPrincipalByName(System.getProperty("user.name", ""));
    } catch (IOException e) {
      return SystemAccounts.us();
    }
  }

  /** An access list that is given when a file is made. */
  record ListAttribute(List<AclEntry> value) implements FileAttribute<List<AclEntry>> {
    @Override
    public String name() {
      return "acl:acl";
    }
  }
}
