// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.limit.Limits;
import io.symbolon.text.Hex;
import java.io.IOException;
import java.net.URI;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;

/**
 * The folder in which a step prepares its files, beside where they will lie: this account's alone,
 * so that nobody can put anything in the place of what is prepared.
 */
final class StageFolder {
  /** How its name begins; sixteen random digits follow. */
  static final String PREFIX = ".symbolon-step-";

  private static final String HOME = "home"; // in which folder the journal lies

  private StageFolder() {}

  static String newName() {
    byte[] random = new byte[8];
    new SecureRandom().nextBytes(random);
    return PREFIX + Hex.of(random);
  }

  /** Whether it is a folder that this process's account made and nobody else can look into. */
  static boolean isOurs(OpenFolder folder, Path name) throws IOException {
    if (!folder.has(name) || !folder.attributes(name).isDirectory()) {
      return false;
    }
    return !(folder.rights(name) instanceof Rights.Posix rights)
        || (Accounts.isUs(rights.owner())
            && java.nio.file.attribute.PosixFilePermissions.toString(rights.permissions())
                .equals("rwx------"));
  }

  /** Notes where the journal will lie. */
  static void writeHome(OpenFolder stage, OpenFolder home) throws IOException {
    try (FileChannel channel = stage.create(stage.name(HOME))) {
      ByteBuffer content =
          ByteBuffer.wrap(home.path().toUri().toString().getBytes(StandardCharsets.UTF_8));
      while (content.hasRemaining()) {
        channel.write(content);
      }
      channel.force(true);
    }
  }

  /** Where the journal lies; nothing where it lies here, or was never written. */
  static Optional<Path> home(OpenFolder stage) throws IOException {
    Path name = stage.name(HOME);
    if (!stage.has(name)) {
      return Optional.empty();
    }
    try (FileChannel channel = stage.read(name)) {
      String text =
          new String(
              Channels.newInputStream(channel).readNBytes(Limits.STAGE_PATH_BYTES),
              StandardCharsets.UTF_8);
      return Optional.of(Path.of(URI.create(text)));
    } catch (IllegalArgumentException e) {
      return Optional.empty(); // cut off: the journal was not written then
    }
  }

  /**
   * Removes it everywhere. The one with the journal goes last, so that a crash in between leaves
   * nothing that nobody knows of.
   */
  static void remove(List<OpenFolder> folders, String stage) throws IOException {
    for (int i = folders.size() - 1; i >= 0; i--) {
      Path name = folders.get(i).name(stage);
      if (folders.get(i).has(name)) {
        folders.get(i).deleteTree(name);
      }
    }
  }
}
