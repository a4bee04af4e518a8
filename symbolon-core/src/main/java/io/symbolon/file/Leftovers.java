// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What lies in a folder under a name of Symbolon's own kind. A name proves nothing: only what is on
 * record in this account's state folder is this account's, and only that is ever changed.
 */
public final class Leftovers {
  /** How the names begin of what Symbolon makes beside files. */
  public static final String PREFIX = ".symbolon-";

  private static final Logger LOG = LoggerFactory.getLogger(Leftovers.class);

  private Leftovers() {}

  /** {@return whether a name is of Symbolon's own kind} */
  public static boolean isNamedSo(String name) {
    return name.startsWith(PREFIX);
  }

  /**
   * {@return whether a file or folder of that kind is on record as this account's}
   *
   * @param path the file or folder
   */
  public static boolean isOnRecord(Path path) {
    try {
      Optional<OpenFolder> found = StateFolder.find(path.getFileSystem());
      if (found.isEmpty()) {
        return false;
      }
      try (OpenFolder state = found.get()) {
        Path real = TargetName.folder(path).toRealPath();
        String name = TargetName.last(path).toString();
        for (StepRecord.Stage stage : StepRecord.stages(state)) {
          for (StepRecord.Room room : stage.rooms()) {
            if (stage.name().equals(name) && room.path().equals(real)) {
              return true;
            }
          }
        }
        return false;
      }
    } catch (IOException e) {
      LOG.debug("what is on record can't be read", e);
      return false;
    }
  }

  /**
   * {@return the folders, of these and those of these files, in which a killed command of this
   * account has left its work unfinished} The next command that writes finishes it or takes it
   * back.
   *
   * @param paths files and folders
   */
  public static List<Path> unfinished(List<Path> paths) {
    List<Path> found = new ArrayList<>();
    try (Folders folders = Folders.of(within(paths))) {
      for (OpenFolder folder : folders.all()) {
        if (Recovery.isNeeded(List.of(folder))) {
          found.add(folder.path());
        }
      }
    } catch (IOException e) {
      LOG.debug("what a killed command may have left was not looked for", e);
    }
    return found;
  }

  private static List<Path> within(List<Path> paths) {
    return paths.stream()
        .map(path -> java.nio.file.Files.isDirectory(path) ? path.resolve("any") : path)
        .toList();
  }
}
