// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Locale;

/** A server whose settings are written, and which is then started with them. */
interface WrittenServer {
  /** The word by which it is chosen. */
  default String word() {
    return toString().toLowerCase(Locale.ROOT);
  }

  ServerTalk talk();

  /** Makes its settings, in clear text or without any listener. */
  void install(Path home, int port) throws IOException;

  List<String> start(Path home);

  /** What ends it besides the process that was started; the usual signal where empty. */
  default List<String> stop(Path home) {
    return List.of();
  }

  /** Whether its port is among what is configured. */
  default boolean hasPort() {
    return true;
  }

  default List<String> modes() {
    return List.of("one-way", "optional", "mutual");
  }

  /** Whether it serves a client without a certificate, in a mode. */
  default boolean servesWithout(String mode) {
    return !mode.equals("mutual");
  }

  /** Skips the test where it is not installed; fails in the run of all checks. */
  default void assume() {}

  static void folder(Path home, String name) {
    try {
      Files.createDirectories(home.resolve(name));
      Files.setPosixFilePermissions(
          home.resolve(name), PosixFilePermissions.fromString("rwxr-xr-x"));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
