// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.GroupPrincipal;
import java.nio.file.attribute.UserPrincipal;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The accounts of this machine: this process's, root's, and who is in a group. */
final class SystemAccounts {
  private SystemAccounts() {}

  /** Whether this is the account that this process runs as. */
  static boolean isUs(UserPrincipal account) {
    return account.equals(Holder.US);
  }

  static boolean isRoot(UserPrincipal account) {
    return Holder.ROOT.filter(account::equals).isPresent();
  }

  /** Whether this is root or the account that this process runs as. */
  static boolean isRootOrUs(UserPrincipal account) {
    return isUs(account) || Optional.of(account).equals(Holder.ROOT);
  }

  /** The account that this process runs as. */
  static UserPrincipal us() {
    return Holder.US;
  }

  /**
   * Whether a group has nobody in it but an account, root and this process's account: then what it
   * may do, nobody else can. Only groups of the machine's own files are known; all others count as
   * groups with somebody in them.
   */
  static boolean isAlone(GroupPrincipal group, UserPrincipal account) {
    return Holder.ROOT_GROUP.equals(Optional.of(group))
        || hasNoneBut(group, List.of(account.getName(), us().getName()));
  }

  /** Whether a group has nobody in it but root and these accounts. */
  static boolean isAlone(GroupPrincipal group, Collection<UserPrincipal> accounts) {
    return hasNoneBut(group, accounts.stream().map(UserPrincipal::getName).toList());
  }

  /** Root, where the system has one. */
  static Optional<UserPrincipal> root() {
    return Holder.ROOT;
  }

  private static boolean hasNoneBut(GroupPrincipal group, Collection<String> accounts) {
    try {
      Optional<List<String>> line = line(Path.of("/etc/group"), 0, group.getName());
      if (line.isEmpty() || line.get().size() < 4) {
        return false;
      }
      String number = line.get().get(2);
      Set<String> members = new HashSet<>(Arrays.asList(line.get().get(3).split(",", -1)));
      for (String one : Files.readAllLines(Path.of("/etc/passwd"), StandardCharsets.ISO_8859_1)) {
        String[] words = one.split(":", -1);
        if (words.length > 3 && words[3].equals(number)) {
          members.add(words[0]);
        }
      }
      members.removeAll(List.of("", "root"));
      members.removeAll(accounts);
      return members.isEmpty();
    } catch (IOException e) {
      return false;
    }
  }

  private static Optional<List<String>> line(Path file, int column, String wanted)
      throws IOException {
    return Files.readAllLines(file, StandardCharsets.ISO_8859_1).stream()
        .map(line -> List.of(line.split(":", -1)))
        .filter(words -> words.size() > column && words.get(column).equals(wanted))
        .findFirst();
  }

  private static final class Holder {
    static final UserPrincipal US = us();
    static final Optional<UserPrincipal> ROOT = root();
    static final Optional<GroupPrincipal> ROOT_GROUP = rootGroup();

    private static UserPrincipal us() {
      try {
        // The system's own word for it where it has one; a file of ours shows it elsewhere.
        Path self = Path.of("/proc/self");
        if (Files.isDirectory(self)) {
          return Files.getOwner(self);
        }
        Path file = Files.createTempFile("symbolon-", ".owner");
        try {
          return Files.getOwner(file);
        } finally {
          Files.delete(file);
        }
      } catch (IOException | UnsupportedOperationException e) {
        return () -> "unknown";
      }
    }

    private static Optional<UserPrincipal> root() {
      try {
        // Where no account is called "0", the platform takes it for the number.
        return Optional.of(
            FileSystems.getDefault().getUserPrincipalLookupService().lookupPrincipalByName("0"));
      } catch (IOException | UnsupportedOperationException e) {
        return Optional.empty();
      }
    }

    private static Optional<GroupPrincipal> rootGroup() {
      try {
        return Optional.of(
            FileSystems.getDefault()
                .getUserPrincipalLookupService()
                .lookupPrincipalByGroupName("0"));
      } catch (IOException | UnsupportedOperationException e) {
        return Optional.empty();
      }
    }
  }
}
