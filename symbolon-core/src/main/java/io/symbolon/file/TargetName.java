// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import java.nio.file.Path;

/** The parts of the name of a file that is to be written. */
final class TargetName {
  private TargetName() {}

  /** A path with nothing behind its last name, such as a slash or a dot. */
  static Path whole(Path target) {
    Path absolute = target.toAbsolutePath();
    while (absolute.getFileName() != null
        && absolute.getFileName().toString().equals(".")
        && absolute.getParent() != null) {
      absolute = absolute.getParent();
    }
    return absolute;
  }

  static Path last(Path target) {
    Path name = target.getFileName();
    if (name == null || name.toString().isEmpty() || name.toString().equals("..")) {
      throw NotWritten.refused(Reason.NOT_WRITABLE, target, "It names no file.", "Name a file.");
    }
    return name;
  }

  static Path folder(Path target) {
    Path parent = target.toAbsolutePath().getParent();
    return parent == null ? target.toAbsolutePath() : parent;
  }
}
