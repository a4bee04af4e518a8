// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.FileSystem;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Finishes or takes back what killed commands of this account have begun. What they have begun is
 * on record ({@link StepRecord}); what lies in the folders themselves is never believed, whatever
 * it is called and whoever it belongs to.
 *
 * <p>A step without a journal was never more than a preparation and is removed. One with a journal
 * is finished; where somebody has changed a file since, it is taken back. A step of which a folder
 * is not there waits for it, for {@link #PATIENCE}; then what can be done is done without it.
 */
final class Recovery {
  private static final Logger LOG = LoggerFactory.getLogger(Recovery.class);

  private static final Duration PATIENCE = Duration.ofDays(30);

  private Recovery() {}

  /**
   * Looks at all that is on record and that nobody holds. What can't be finished now stays on
   * record; it is told and stops nobody.
   *
   * @param near the folders that are worked in next
   * @param wait how long a folder that another command works in is waited for, where the step has
   *     to do with one of those folders
   */
  static void sweep(Collection<OpenFolder> near, OpenFolder.Opener opener, Duration wait)
      throws IOException {
    forAbandoned(near, record -> sweep(record, touches(record, near), opener, wait));
  }

  /** What is done with a record that nobody holds. */
  private interface Look {
    void at(StepRecord record) throws IOException;
  }

  private static void forAbandoned(Collection<OpenFolder> near, Look look) throws IOException {
    Set<FileSystem> systems = new LinkedHashSet<>();
    near.forEach(folder -> systems.add(folder.path().getFileSystem()));
    for (FileSystem system : systems) {
      Optional<OpenFolder> found = StateFolder.find(system);
      if (found.isPresent()) {
        try (OpenFolder state = found.get()) {
          for (StepRecord record : StepRecord.abandoned(state)) {
            try (record) {
              look.at(record);
            } catch (IOException e) {
              LOG.debug("the record {} can't be read", record.number(), e);
            }
          }
        }
      }
    }
  }

  private static void sweep(
      StepRecord record, boolean near, OpenFolder.Opener opener, Duration wait) {
    try {
      finish(record, opener, near ? wait : Duration.ZERO);
    } catch (IOException | SymbolonException e) {
      String why = e instanceof IOException failure ? NotWritten.message(failure) : e.getMessage();
      if (near) {
        LOG.warn("what a killed command has begun could not be finished yet: {}", why);
      } else {
        LOG.debug("what a killed command has begun elsewhere is not finished yet: {}", why);
      }
    }
  }

  /** Whether a command has died meanwhile whose step has to do with these folders. */
  static boolean isNeeded(Collection<OpenFolder> near) throws IOException {
    boolean[] needed = {false};
    forAbandoned(near, record -> needed[0] |= touches(record, near) && !waitsForAFolder(record));
    return needed[0];
  }

  private static boolean touches(StepRecord record, Collection<OpenFolder> near)
      throws IOException {
    Optional<StepRecord.Stage> stage = record.stage();
    if (stage.isEmpty()) {
      return false;
    }
    for (OpenFolder folder : near) {
      for (StepRecord.Room room : stage.get().rooms()) {
        if (folder.path().equals(room.path())) {
          return true;
        }
      }
    }
    return false;
  }

  /** Such a step can't be finished now, however often it is tried. */
  private static boolean waitsForAFolder(StepRecord record) throws IOException {
    StepRecord.Stage stage = record.stage().orElseThrow();
    for (StepRecord.Room room : stage.rooms()) {
      Optional<OpenFolder> open = open(stage, room, FolderOpening::open);
      if (open.isEmpty()) {
        return true;
      }
      open.get().close();
    }
    return false;
  }

  private static void finish(StepRecord record, OpenFolder.Opener opener, Duration wait)
      throws IOException {
    Optional<StepRecord.Stage> found = record.stage();
    if (found.isEmpty()) {
      record.finish();
      return;
    }
    StepRecord.Stage stage = found.get();
    List<OpenFolder> folders = new ArrayList<>();
    List<StepRecord.Room> rooms = new ArrayList<>();
    List<Integer> positions = new ArrayList<>();
    try {
      for (int i = 0; i < stage.rooms().size(); i++) {
        Optional<OpenFolder> open = open(stage, stage.rooms().get(i), opener);
        if (open.isPresent()) {
          folders.add(open.get());
          rooms.add(stage.rooms().get(i));
          positions.add(i);
        }
      }
      finish(record, stage, new There(stage.with(rooms), folders, positions), wait);
    } finally {
      for (OpenFolder folder : folders) {
        folder.close();
      }
    }
  }

  /** The folders of a step that are there. */
  private record There(StepRecord.Stage stage, List<OpenFolder> folders, List<Integer> positions) {}

  /** A folder of a step, if it is still the same one. */
  private static Optional<OpenFolder> open(
      StepRecord.Stage stage, StepRecord.Room room, OpenFolder.Opener opener) throws IOException {
    OpenFolder folder;
    try {
      folder = opener.open(room.path());
    } catch (NoSuchFileException | NotDirectoryException | ForeignLinkException e) {
      return Optional.empty();
    }
    if (folder.path().equals(room.path())
        && folder.id().isSame(room.folder(), stage.isSameBoot())) {
      return Optional.of(folder);
    }
    folder.close();
    return Optional.empty();
  }

  @SuppressWarnings("try") // holding the folders is all that is done with the lock
  private static void finish(StepRecord record, StepRecord.Stage all, There there, Duration wait)
      throws IOException {
    StepState state = record.step();
    boolean back = state == StepState.TURNED_BACK;
    boolean whole = there.folders().size() == all.rooms().size();
    Optional<Journal> journal =
        switch (state) {
          case TURNED_BACK -> Optional.of(Journal.read(record.folder(), Journal.BACK));
          case COMMITTED -> Optional.of(Journal.read(record.folder(), Journal.NAME));
          case NUMBERED, PREPARED, ENDED -> Optional.empty();
        };
    if (journal.isPresent() && !whole && isFresh(journal.get())) {
      throw new IOException(
          "a folder of it is not there, or it is another one than before: "
              + all.rooms().stream()
                  .map(StepRecord.Room::path)
                  .filter(
                      path -> there.folders().stream().noneMatch(one -> one.path().equals(path)))
                  .map(NotWritten::shown)
                  .toList());
    }
    try (FolderLock lock = FolderLock.hold(there.folders(), wait)) {
      if (journal.isPresent()) {
        run(record, there, journal.get().only(there.positions()), back);
      } else {
        LOG.info("removed what an interrupted command had prepared");
      }
      record.settle();
      StageFolder.remove(there.folders(), there.stage());
      record.finish();
    }
  }

  private static boolean isFresh(Journal journal) {
    return Duration.between(journal.at(), Instant.now()).abs().compareTo(PATIENCE) < 0;
  }

  private static void run(StepRecord record, There there, Journal journal, boolean back)
      throws IOException {
    List<Applier.Room> rooms = new ArrayList<>();
    try {
      for (int i = 0; i < there.folders().size(); i++) {
        OpenFolder folder = there.folders().get(i);
        rooms.add(
            new Applier.Room(
                folder, StageFolder.enter(folder, there.stage(), there.stage().rooms().get(i))));
      }
      Applier applier = new Applier(rooms, true);
      if (!back && isForward(applier, journal)) {
        KeptVersions.keep(record, there.stage().rooms());
        applier.drop(record.state(), journal);
        LOG.info("finished what an interrupted command had begun");
        return;
      }
      if (!back) {
        record.takeBack();
      }
      applier.back(journal.changes());
      LOG.info("took back what an interrupted command had begun");
    } finally {
      for (Applier.Room room : rooms) {
        if (room.stage().isPresent()) {
          room.stage().get().close();
        }
      }
    }
  }

  private static boolean isForward(Applier applier, Journal journal) throws IOException {
    try {
      applier.forward(journal);
      return true;
    } catch (FileSystemException e) {
      LOG.info("an interrupted command can't be finished", e);
      return false;
    }
  }
}
