// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
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
   * @param stage the step's own folder in it; nothing where it is gone already
   */
  record Room(OpenFolder folder, Optional<OpenFolder> stage) {}

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
  }

  /** Removes what is not kept any more, since it was brought back. */
  void drop(OpenFolder state, Journal journal) throws IOException {
    for (int i = 0; i < rooms.size(); i++) {
      int position = i;
      List<String> names =
          journal.drops().stream()
              .filter(one -> one.folder() == position)
              .map(Journal.Drop::name)
              .toList();
      if (!names.isEmpty()) {
        KeptVersions.remove(state, rooms.get(i).folder().path(), names);
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
        throw new ChangedMeanwhileException(folder.path().resolve(change.name()));
      }
    } else if (change.kind() == Journal.Change.ChangeKind.FILE) {
      claim(folder, change.name());
    } else if (folder.has(change.name())) {
      throw new FileAlreadyExistsException(folder.path().resolve(change.name()).toString());
    }
    stage.rename(folder.name(change.stagedName()), folder, change.name());
    if (!isFresh(folder, change)) {
      throw new ChangedMeanwhileException(folder.path().resolve(change.name()));
    }
  }

  /**
   * The file moves into the step's own folder, where nobody else reaches it, and is compared there:
   * one that was exchanged at the last moment goes back.
   */
  private void takeAway(OpenFolder folder, Journal.Change change, OpenFolder stage)
      throws IOException {
    Path old = folder.name(change.oldName());
    if (!again || !stage.has(old)) {
      if (!Snapshot.of(folder, change.name()).equals(change.old())) {
        throw new ChangedMeanwhileException(folder.path().resolve(change.name()));
      }
      folder.rename(change.name(), stage, old);
      if (!Snapshot.of(stage, old).equals(change.old())) {
        stage.rename(old, folder, change.name());
        throw new ChangedMeanwhileException(folder.path().resolve(change.name()));
      }
    }
    stage.delete(folder.name(change.stagedName()));
  }

  /** The old file comes back from the step's own folder, if it is there. */
  private static void giveBack(Room room, Journal.Change change) throws IOException {
    if (room.stage().isEmpty()) {
      return;
    }
    OpenFolder stage = room.stage().get();
    Path old = stage.name(change.oldName());
    if (stage.has(old)) {
      stage.rename(old, room.folder(), change.name());
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
        && (!(folder.rights(name) instanceof Rights.Posix rights)
            || SystemAccounts.isUs(rights.owner()));
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
        forget(room, change);
      } else {
        restore(room, change);
      }
      changed.add(room.folder());
    }
    for (OpenFolder folder : changed) {
      folder.flush();
    }
  }

  /** It never got its name: what was prepared for it goes with the step's own folder. */
  private static void forget(Room room, Journal.Change change) throws IOException {
    if (change.kind() == Journal.Change.ChangeKind.GONE) {
      if (!room.folder().has(change.name())) {
        giveBack(room, change); // it may have been killed in the middle of that
      }
    } else if (change.old().isEmpty()
        && change.kind() == Journal.Change.ChangeKind.FILE
        && isPlaceholder(room.folder(), change.name())) {
      room.folder().delete(change.name());
    }
  }

  private static void restore(Room room, Journal.Change change) throws IOException {
    OpenFolder folder = room.folder();
    if (change.kind() == Journal.Change.ChangeKind.GONE) {
      if (!folder.has(change.name())) {
        giveBack(room, change);
      }
      return;
    }
    if (!isFresh(folder, change)) {
      return;
    }
    if (change.old().isPresent()) {
      giveBack(room, change);
    } else if (change.kind() == Journal.Change.ChangeKind.FILE) {
      folder.delete(change.name());
    } else {
      StageFolder.removeFolder(folder, change.name(), change.inner());
    }
  }
}
