// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The opened folders of some files. */
final class Folders implements Closeable {
  private final Map<Path, OpenFolder> byPath = new LinkedHashMap<>();

  private Folders() {}

  /** Those of these files, links to files followed; a folder that is not there is passed over. */
  static Folders of(Collection<Path> files) throws IOException {
    Folders folders = new Folders();
    try {
      for (Path file : files) {
        Path folder = TargetName.folder(followed(file));
        if (!Files.isDirectory(folder)) {
          folder = TargetName.folder(folder); // one that is to be made
        }
        if (Files.isDirectory(folder) && Files.isWritable(folder)) {
          OpenFolder open = FolderOpening.open(folder);
          OpenFolder before = folders.byPath.putIfAbsent(open.path(), open);
          if (before != null) {
            open.close();
          }
        }
      }
      return folders;
    } catch (IOException | RuntimeException e) {
      folders.close();
      throw e;
    }
  }

  private static Path followed(Path file) {
    try {
      return Files.isSymbolicLink(file) ? file.toRealPath() : file;
    } catch (IOException e) {
      return file;
    }
  }

  List<OpenFolder> all() {
    return new ArrayList<>(byPath.values());
  }

  @Override
  public void close() throws IOException {
    for (OpenFolder folder : byPath.values()) {
      folder.close();
    }
  }
}
