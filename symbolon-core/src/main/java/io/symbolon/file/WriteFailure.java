// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Path;

/** What a failure of the system means to whoever wanted a file to be written. */
final class WriteFailure {
  private WriteFailure() {}

  /** The failure that a caller can act on. */
  static SymbolonException of(IOException e, Path target) {
    if (e instanceof FileAlreadyExistsException) {
      return NotWritten.exists(target);
    }
    if (e instanceof ChangedMeanwhileException) {
      return NotWritten.refused(
          Reason.CHANGED,
          target,
          "Somebody else has changed it since it was read.",
          "Give the command again.",
          e);
    }
    if (e instanceof ForeignLinkException foreign) {
      return NotWritten.refused(
          Reason.NOT_WRITABLE,
          target,
          "On the way to it is the link "
              + NotWritten.shown(Path.of(foreign.getFile()))
              + ", in a folder that another account can change.",
          "Give the path that the link leads to.",
          e);
    }
    return NotWritten.refused(
        Reason.NOT_WRITABLE,
        target,
        "The system says: " + NotWritten.message(e) + ".",
        "Check the rights and the free space of the folder"
            + StateFolder.opened(target.getFileSystem())
                .map(state -> ", and of Symbolon's state folder " + NotWritten.shown(state) + ".")
                .orElse("."),
        e);
  }
}
