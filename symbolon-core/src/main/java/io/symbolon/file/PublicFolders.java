// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Folders that anybody may enter, below one that another account may own, such as the documents of
 * a web server. They are made and removed in the very folder that was opened, following no
 * stranger's link, and have their rights before they have their name.
 */
public final class PublicFolders {
  private PublicFolders() {}

  /**
   * Makes a folder, where nothing bears its name.
   *
   * @param folder the folder; the one around it is there
   * @return whether it was made
   * @throws IOException if it can't be made
   */
  public static boolean make(Path folder) throws IOException {
    Path name = TargetName.last(folder);
    try (OpenFolder around = FolderOpening.open(TargetName.folder(folder))) {
      if (around.has(name)) {
        return false;
      }
      try (OpenFolder state = StateFolder.open(folder.getFileSystem(), FolderOpening::open);
          StepRecord record = StepRecord.begin(state)) {
        make(around, name, record);
      }
      return true;
    }
  }

  private static void make(OpenFolder around, Path name, StepRecord record) throws IOException {
    StepRecord.Room room =
        new StepRecord.Room(
            around.path(),
            around.id(),
            Optional.empty(),
            List.of(new StepRecord.Held(name.toString(), true, List.of())));
    StepRecord.Stage planned = StepRecord.Stage.of(StageFolder.newName(), List.of(room));
    record.write(planned);
    try (OpenFolder stage = around.make(around.name(planned.name()))) {
      planned = planned.with(List.of(room.with(stage.id())));
      record.write(planned);
      StageFolder.mark(stage, planned.key());
      stage.make(name).close();
      if (stage.rights(name) instanceof Rights.Posix rights) {
        stage.give(name, rights.with(PublicMode.folderPermissions()));
      }
      stage.rename(name, around, name);
    } finally {
      StageFolder.remove(List.of(around), planned);
      record.finish();
    }
  }

  /**
   * Removes a file, or an empty folder; what is not there, and a folder with something in it, are
   * left as they are.
   *
   * @param path the file or the folder
   * @return whether it is gone
   * @throws IOException if the system does not let us
   */
  public static boolean remove(Path path) throws IOException {
    Path name = TargetName.last(path);
    try (OpenFolder around = FolderOpening.open(TargetName.folder(path))) {
      if (around.has(name) && around.attributes(name).isDirectory()) {
        around.deleteFolder(name);
      } else if (around.has(name)) {
        around.delete(name);
      }
      return true;
    } catch (DirectoryNotEmptyException e) {
      return false;
    } catch (NoSuchFileException e) {
      return true;
    }
  }
}
