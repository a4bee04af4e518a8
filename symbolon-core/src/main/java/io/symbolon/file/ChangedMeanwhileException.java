// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.nio.file.FileSystemException;
import java.nio.file.Path;

/** Somebody else has changed a file since it was looked at. */
final class ChangedMeanwhileException extends FileSystemException {
  private static final long serialVersionUID = 1L;

  ChangedMeanwhileException(Path file) {
    super(file.toString(), null, "it was changed by somebody else in the meantime");
  }
}
