// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;

/**
 * The permissions an ordinary new file gets here. Java can't be asked for the process's mask, so it
 * is read from the system where it tells, and learned from a throw-away file elsewhere.
 */
final class PublicMode {
  private static final List<PosixFilePermission> BITS =
      List.of(
          PosixFilePermission.OTHERS_EXECUTE,
          PosixFilePermission.OTHERS_WRITE,
          PosixFilePermission.OTHERS_READ,
          PosixFilePermission.GROUP_EXECUTE,
          PosixFilePermission.GROUP_WRITE,
          PosixFilePermission.GROUP_READ,
          PosixFilePermission.OWNER_EXECUTE,
          PosixFilePermission.OWNER_WRITE,
          PosixFilePermission.OWNER_READ);

  private PublicMode() {}

  static Set<PosixFilePermission> permissions() {
    return Holder.PERMISSIONS;
  }

  /** The permissions of an ordinary new folder: whoever may read may enter. */
  static Set<PosixFilePermission> folderPermissions() {
    Set<PosixFilePermission> permissions = EnumSet.noneOf(PosixFilePermission.class);
    permissions.addAll(Holder.PERMISSIONS);
    for (int i = 0; i < BITS.size(); i += 3) {
      if (permissions.contains(BITS.get(i + 2))) {
        permissions.add(BITS.get(i));
      }
    }
    return permissions;
  }

  private static final class Holder {
    static final Set<PosixFilePermission> PERMISSIONS = learn();

    private static Set<PosixFilePermission> learn() {
      try {
        Path status = Path.of("/proc/self/status");
        if (Files.isReadable(status)) {
          for (String line : Files.readAllLines(status, StandardCharsets.ISO_8859_1)) {
            if (line.startsWith("Umask:")) {
              return ordinary(Integer.parseInt(line.substring(6).strip(), 8));
            }
          }
        }
        Path folder = Files.createTempDirectory("symbolon-");
        Path file = Files.createFile(folder.resolve("mode"));
        Set<PosixFilePermission> learned = Files.getPosixFilePermissions(file);
        Files.delete(file);
        Files.delete(folder);
        return learned;
      } catch (IOException | UnsupportedOperationException | NumberFormatException e) {
        return PosixFilePermissions.fromString("rw-r--r--");
      }
    }

    private static Set<PosixFilePermission> ordinary(int mask) {
      Set<PosixFilePermission> permissions = EnumSet.noneOf(PosixFilePermission.class);
      for (int i = 0; i < BITS.size(); i++) {
        boolean execute = i % 3 == 0;
        if (!execute && (mask & (1 << i)) == 0) {
          permissions.add(BITS.get(i));
        }
      }
      permissions.add(PosixFilePermission.OWNER_READ); // so that it can be read again
      permissions.add(PosixFilePermission.OWNER_WRITE);
      return permissions;
    }
  }
}
