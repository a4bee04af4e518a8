// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Does what a journal says, or takes it back: for the step that wrote it and, after a crash, for
 * whoever finds it. What was done before is seen from what lies where, so that doing it again does
 * no harm.
 *
 * @param rooms the folders of the journal, in its order
 * @param again whether a crash may have come in between
 */
record Applier(List<Room> rooms, boolean again) {
  /**
   * A folder that is worked in.
   *
   * @param folder the folder
   * @param stage the step's own folder in it; nothing where it is gone already
   */
  record Room(OpenFolder folder, Optional<OpenFolder> stage) {}

  /** Somebody else has changed a file since it was looked at. */
  static final class ChangedMeanwhile extends FileSystemException {
    private static final long serialVersionUID = 1L;

    ChangedMeanwhile(Path file) {
      super(file.toString(), null, "it was changed by somebody else in the meantime");
    }
  }

  void forward(Journal journal) throws IOException {
    Set<OpenFolder> changed = new LinkedHashSet<>();
    for (Journal.Change change : journal.changes()) {
      Room room = rooms.get(change.folder());
      if (isWaiting(room, change)) {
        name(room, change, room.stage().orElseThrow());
        changed.add(room.folder());
      }
    }
    for (OpenFolder folder : changed) {
      folder.flush();
    }
    for (Journal.Drop drop : journal.drops()) {
      OpenFolder folder = rooms.get(drop.folder()).folder();
      Optional<OpenFolder> undo = UndoFolder.open(folder);
      if (undo.isPresent()) {
        try (OpenFolder kept = undo.get()) {
          deleteIfThere(kept, folder.name(drop.name()));
        }
      }
    }
  }

  private static boolean isWaiting(Room room, Journal.Change change) throws IOException {
    return room.stage().isPresent()
        && room.stage().get().has(room.folder().name(change.stagedName()));
  }

  private void name(Room room, Journal.Change change, OpenFolder stage) throws IOException {
    OpenFolder folder = room.folder();
    if (change.kind() == Journal.Change.ChangeKind.GONE) {
      takeAway(folder, change, stage);
      return;
    }
    if (change.old().isPresent()) {
      if (!Snapshot.of(folder, change.name()).equals(change.old())) {
        throw new ChangedMeanwhile(folder.path().resolve(change.name()));
      }
      keep(folder, change, stage);
    } else if (change.kind() == Journal.Change.ChangeKind.FILE) {
      claim(folder, change.name());
      keep(folder, change, stage);
    } else if (folder.has(change.name())) {
      throw new FileAlreadyExistsException(folder.path().resolve(change.name()).toString());
    }
    stage.rename(folder.name(change.stagedName()), folder, change.name());
    if (!isFresh(folder, change)) {
      throw new ChangedMeanwhile(folder.path().resolve(change.name()));
    }
  }

  /** What undo needs gets its name in the folder for it. */
  private static void keep(OpenFolder folder, Journal.Change change, OpenFolder stage)
      throws IOException {
    if (!change.undo().isEmpty() && stage.has(folder.name(change.oldName()))) {
      try (OpenFolder undo = UndoFolder.openOrMake(folder)) {
        stage.rename(folder.name(change.oldName()), undo, folder.name(change.undo()));
        undo.flush();
      }
    }
  }

  /** The file itself becomes what is kept. */
  private void takeAway(OpenFolder folder, Journal.Change change, OpenFolder stage)
      throws IOException {
    try (OpenFolder undo = UndoFolder.openOrMake(folder)) {
      boolean moved = again && undo.has(folder.name(change.undo()));
      if (!moved) {
        if (!Snapshot.of(folder, change.name()).equals(change.old())) {
          throw new ChangedMeanwhile(folder.path().resolve(change.name()));
        }
        folder.rename(change.name(), undo, folder.name(change.undo()));
        undo.flush();
      }
    }
    stage.delete(folder.name(change.stagedName()));
  }

  /** The file comes back, unless another has its name by now. */
  private static void giveBack(OpenFolder folder, Journal.Change change) throws IOException {
    Optional<OpenFolder> undo = UndoFolder.open(folder);
    if (undo.isPresent()) {
      try (OpenFolder kept = undo.get()) {
        if (kept.has(folder.name(change.undo())) && !folder.has(change.name())) {
          kept.rename(folder.name(change.undo()), folder, change.name());
        }
      }
      UndoFolder.removeIfEmpty(folder);
    }
  }

  /** Takes a free name with an empty file: making one fails where a rename would replace. */
  private void claim(OpenFolder folder, Path name) throws IOException {
    try {
      folder.create(name).close();
    } catch (FileAlreadyExistsException e) {
      if (!again || !isPlaceholder(folder, name)) {
        throw e;
      }
    }
  }

  private static boolean isPlaceholder(OpenFolder folder, Path name) throws IOException {
    return folder.has(name)
        && folder.attributes(name).isRegularFile()
        && folder.attributes(name).size() == 0
        && (!(folder.rights(name) instanceof Rights.Posix rights) || Accounts.isUs(rights.owner()));
  }

  private static boolean isFresh(OpenFolder folder, Journal.Change change) throws IOException {
    Optional<Snapshot> there = Snapshot.of(folder, change.name());
    return change.kind() == Journal.Change.ChangeKind.FILE
        ? there.equals(Optional.of(change.fresh()))
        : there.map(Snapshot::number).equals(Optional.of(change.fresh().number()));
  }

  /** Takes everything back that was done; what somebody else has changed since is left alone. */
  void back(List<Journal.Change> changes) throws IOException {
    Set<OpenFolder> changed = new LinkedHashSet<>();
    for (int i = changes.size() - 1; i >= 0; i--) {
      Journal.Change change = changes.get(i);
      Room room = rooms.get(change.folder());
      if (isWaiting(room, change)) {
        forget(room.folder(), change);
      } else {
        restore(room, change);
      }
      changed.add(room.folder());
    }
    for (OpenFolder folder : changed) {
      folder.flush();
    }
  }

  /** It never got its name: what was prepared for it goes. */
  private static void forget(OpenFolder folder, Journal.Change change) throws IOException {
    if (change.kind() == Journal.Change.ChangeKind.GONE) {
      giveBack(folder, change); // it may have been killed in the middle of that
      return;
    }
    forgetKept(folder, change);
    if (change.old().isEmpty()
        && change.kind() == Journal.Change.ChangeKind.FILE
        && isPlaceholder(folder, change.name())) {
      folder.delete(change.name());
    }
  }

  private static void forgetKept(OpenFolder folder, Journal.Change change) throws IOException {
    Optional<OpenFolder> undo =
        change.undo().isEmpty() ? Optional.empty() : UndoFolder.open(folder);
    if (undo.isPresent()) {
      try (OpenFolder kept = undo.get()) {
        deleteIfThere(kept, folder.name(change.undo()));
      }
      UndoFolder.removeIfEmpty(folder);
    }
  }

  private static void restore(Room room, Journal.Change change) throws IOException {
    OpenFolder folder = room.folder();
    if (change.kind() == Journal.Change.ChangeKind.GONE) {
      giveBack(folder, change);
      return;
    }
    if (!isFresh(folder, change)) {
      return;
    }
    if (change.old().isPresent() && change.undo().isEmpty()) {
      if (room.stage().isPresent() && room.stage().get().has(folder.name(change.oldName()))) {
        room.stage().get().rename(folder.name(change.oldName()), folder, change.name());
      }
    } else if (change.old().isPresent()) {
      Optional<OpenFolder> undo = UndoFolder.open(folder);
      if (undo.isPresent()) {
        try (OpenFolder kept = undo.get()) {
          if (kept.has(folder.name(change.undo()))) {
            kept.rename(folder.name(change.undo()), folder, change.name());
          }
        }
        UndoFolder.removeIfEmpty(folder);
      }
    } else if (change.kind() == Journal.Change.ChangeKind.FILE) {
      folder.delete(change.name());
      forgetKept(folder, change);
    } else {
      folder.deleteTree(change.name());
    }
  }

  private static void deleteIfThere(OpenFolder folder, Path name) throws IOException {
    try {
      folder.delete(name);
    } catch (NoSuchFileException e) {
      // it never came so far
    }
  }
}
