package io.symbolon.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;

/**
 * The permissions an ordinary new file gets here. Java can't be asked for the process's mask, so it
 * is learned once, from a throw-away file in the system's folder for those.
 */
final class PublicMode {
  private PublicMode() {}

  static Set<PosixFilePermission> permissions() throws IOException {
    return Holder.PERMISSIONS;
  }

  private static final class Holder {
    static final Set<PosixFilePermission> PERMISSIONS = learn();

    private static Set<PosixFilePermission> learn() {
      try {
        Path folder = Files.createTempDirectory("symbolon-");
        Path file = Files.createFile(folder.resolve("mode"));
        Set<PosixFilePermission> learned = Files.getPosixFilePermissions(file);
        Files.delete(file);
        Files.delete(folder);
        return learned;
      } catch (IOException | UnsupportedOperationException e) {
        return PosixFilePermissions.fromString("rw-r--r--");
      }
    }
  }
}
