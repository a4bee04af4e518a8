// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.nio.file.FileSystemException;
import java.nio.file.Path;

/** A file that is not read: what it is. */
public final class NotAFileException extends FileSystemException {
  private static final long serialVersionUID = 1L;

  NotAFileException(Path file, String what) {
    super(file.toString(), null, what);
  }

  /** {@return what it is, for a sentence that begins with "It is"} */
  public String what() {
    return String.valueOf(getReason());
  }
}
