// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SecureDirectoryStream;

/** Opens folders: by handles where the system has them, and otherwise by their paths. */
final class FolderOpening {
  private FolderOpening() {}

  /**
   * Opens a folder, step by step from the root of the file system. A link on the way is followed
   * where nobody but this process's account and root could have placed it.
   *
   * @throws ForeignLinkException if there is a link on the way that somebody else could have placed
   * @throws IOException if there is no such folder, or the system does not let us
   */
  @SuppressWarnings("StreamResourceLeak") // the folder that is returned closes it
  static OpenFolder open(Path folder) throws IOException {
    Path absolute = folder.toAbsolutePath();
    Path root = absolute.getRoot();
    if (root != null) {
      DirectoryStream<Path> stream = Files.newDirectoryStream(root);
      if (stream instanceof SecureDirectoryStream<Path> secure) {
        return FolderPathWalk.walk(root, secure, absolute);
      }
      stream.close();
    }
    return new PathFolder(absolute.toRealPath());
  }
}
