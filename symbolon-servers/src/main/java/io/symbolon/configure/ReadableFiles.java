// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.file.Owner;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermission;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Which files an account of the machine may read, by owner, groups and mode. Access lists are not
 * looked at: they can only let more accounts in.
 */
final class ReadableFiles {
  private final Machine machine;

  ReadableFiles(Machine machine) {
    this.machine = machine;
  }

  /** Whether the rights of files tell which account can read them. */
  boolean areKnown() {
    return !machine.isWindows();
  }

  /** Why an account can't read a file; nothing where it can, or where nobody can tell. */
  Optional<String> whyNotReadable(String account, Path file) {
    if (account.equals("root") || !areKnown()) {
      return Optional.empty();
    }
    Optional<Set<String>> groups = groups(account);
    if (groups.isEmpty()) {
      return Optional.of("this machine has no such account");
    }
    try {
      Path real = file.toRealPath();
      Optional<String> outside = notEntered(account, groups.get(), real.getParent());
      if (outside.isPresent()) {
        return outside;
      }
      if (may(account, groups.get(), real, false)) {
        return Optional.empty();
      }
      PosixFileAttributes rights = Files.readAttributes(real, PosixFileAttributes.class);
      return Optional.of(
          "the file is "
              + rights.owner().getName()
              + ":"
              + rights.group().getName()
              + "'s, with the rights "
              + java.nio.file.attribute.PosixFilePermissions.toString(rights.permissions()));
    } catch (NoSuchFileException | UnsupportedOperationException e) {
      return Optional.empty(); // that it is absent is told elsewhere
    } catch (IOException e) {
      return Optional.empty();
    }
  }

  /** Why an account can't come to the place of a file that is not there yet. */
  Optional<String> whyNotReached(String account, Path file) {
    Optional<Set<String>> groups =
        account.equals("root") || !areKnown() ? Optional.empty() : groups(account);
    Path folder = file.toAbsolutePath().getParent();
    while (folder != null && !Files.exists(folder)) {
      folder = folder.getParent();
    }
    if (groups.isEmpty() || folder == null) {
      return Optional.empty();
    }
    try {
      return notEntered(account, groups.get(), folder.toRealPath());
    } catch (IOException | UnsupportedOperationException e) {
      return Optional.empty(); // nobody can tell
    }
  }

  private static Optional<String> notEntered(
      String account, Set<String> groups, @Nullable Path innermost) throws IOException {
    for (Path folder = innermost; folder != null; folder = folder.getParent()) {
      if (!may(account, groups, folder, true)) {
        return Optional.of("it may not enter the folder " + VisibleText.of(folder.toString()));
      }
    }
    return Optional.empty();
  }

  /** Whether an account can read a file that is its owner's, and of a group that may read it. */
  boolean mayRead(String account, Owner owner) {
    return account.equals("root")
        || !areKnown()
        || account.equals(owner.user())
        || owner.group().filter(groups(account).orElse(Set.of())::contains).isPresent();
  }

  private static boolean may(String account, Set<String> groups, Path path, boolean enter)
      throws IOException {
    PosixFileAttributes rights = Files.readAttributes(path, PosixFileAttributes.class);
    Set<PosixFilePermission> has = rights.permissions();
    if (rights.owner().getName().equals(account)) {
      return has.contains(
          enter ? PosixFilePermission.OWNER_EXECUTE : PosixFilePermission.OWNER_READ);
    }
    if (groups.contains(rights.group().getName())) {
      return has.contains(
          enter ? PosixFilePermission.GROUP_EXECUTE : PosixFilePermission.GROUP_READ);
    }
    return has.contains(
        enter ? PosixFilePermission.OTHERS_EXECUTE : PosixFilePermission.OTHERS_READ);
  }

  /** The groups of an account, from the machine's own lists; nothing where it is not in them. */
  private Optional<Set<String>> groups(String account) {
    Optional<String[]> entry =
        lines("/etc/passwd").stream()
            .map(line -> line.split(":", -1))
            .filter(parts -> parts.length > 3 && parts[0].equals(account))
            .findFirst();
    if (entry.isEmpty()) {
      return knownToSystem(account) ? Optional.of(Set.of()) : Optional.empty();
    }
    Set<String> groups = new HashSet<>();
    for (String line : lines("/etc/group")) {
      String[] parts = line.split(":", -1);
      boolean own = parts.length > 2 && parts[2].equals(entry.get()[3]);
      if (own || (parts.length > 3 && List.of(parts[3].split(",", -1)).contains(account))) {
        groups.add(parts[0]);
      }
    }
    return Optional.of(groups);
  }

  /** Accounts of a directory are in no file. */
  private boolean knownToSystem(String account) {
    try {
      machine.root().getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName(account);
      return true;
    } catch (IOException | UnsupportedOperationException e) {
      return false;
    }
  }

  private List<String> lines(String file) {
    return machine
        .files()
        .read(machine.path(file))
        .map(FileView.ReadFile::octets)
        .map(octets -> new String(octets, StandardCharsets.UTF_8).lines().toList())
        .orElse(List.of());
  }
}
