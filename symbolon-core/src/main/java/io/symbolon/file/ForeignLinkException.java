// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.nio.file.FileSystemException;
import java.nio.file.Path;

/** A link on the way to a folder that somebody else could have placed. */
final class ForeignLinkException extends FileSystemException {
  private static final long serialVersionUID = 1L;

  ForeignLinkException(Path link) {
    super(link.toString(), null, "a link in a folder that another account can change");
  }
}
