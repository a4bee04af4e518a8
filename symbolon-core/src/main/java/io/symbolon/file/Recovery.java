// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Finishes or takes back what an interrupted command has left in a folder. Whoever calls holds the
 * folder, so that no command that still runs is disturbed.
 *
 * <p>A step's own folder without a journal was never more than a preparation and is removed. One
 * with a journal is finished; where somebody has changed a file since, it is taken back. Only
 * folders of this process's own account are looked into: what others have left is theirs.
 */
final class Recovery {
  private static final Logger LOG = LoggerFactory.getLogger(Recovery.class);

  private static final long PAUSE = 10_000_000_000L; // nanoseconds
  private static final int MOST_REMEMBERED = 1_000;
  private static final Map<Object, Long> TIDIED = new ConcurrentHashMap<>();

  private Recovery() {}

  /** Tidies a folder up; says in the log what it did. */
  static void tidy(OpenFolder folder, OpenFolder.Opener opener) throws IOException {
    for (Path name : folder.names()) {
      if (name.toString().startsWith(StageFolder.PREFIX)) {
        try {
          tidy(folder, name, opener);
        } catch (AccessDeniedException | NoSuchFileException e) {
          LOG.debug("{} in {} is left as it is", name, folder.path(), e);
        }
      }
    }
  }

  /**
   * The same, unless it was done a moment ago: who writes ten thousand files into one folder does
   * not list it ten thousand times.
   */
  static void tidyNowAndThen(OpenFolder folder, OpenFolder.Opener opener) throws IOException {
    Object number = folder.attributes().fileKey();
    Object key = number == null ? folder.path() : number;
    long now = System.nanoTime();
    Long before = TIDIED.get(key);
    if (before != null && now - before < PAUSE) {
      return;
    }
    tidy(folder, opener);
    if (TIDIED.size() > MOST_REMEMBERED) {
      TIDIED.clear();
    }
    TIDIED.put(key, now);
  }

  /** Whether there is something that an interrupted command of this account has left. */
  static boolean isNeeded(OpenFolder folder) throws IOException {
    for (Path name : folder.names()) {
      boolean stage =
          name.toString().startsWith(StageFolder.PREFIX) && StageFolder.isOurs(folder, name);
      if (stage || name.toString().equals(FolderLock.NAME)) {
        return true;
      }
    }
    return false;
  }

  @SuppressWarnings("try") // holding the folder is all that is done with the lock
  private static void tidy(OpenFolder folder, Path name, OpenFolder.Opener opener)
      throws IOException {
    if (!StageFolder.isOurs(folder, name)) {
      return;
    }
    Optional<Path> home;
    boolean journal;
    try (OpenFolder stage = folder.enter(name)) {
      home = StageFolder.home(stage);
      journal = hasJournal(stage);
    }
    if (journal) {
      finish(folder, name, opener);
    } else if (home.isPresent() && homeHasJournal(home.get(), name, opener)) {
      try (OpenFolder first = opener.open(home.get());
          FolderLock lock = FolderLock.hold(List.of(first))) {
        finish(first, name, opener);
      }
    }
    if (folder.has(name)) {
      folder.deleteTree(name);
      LOG.info("removed what an interrupted command had prepared in {}", folder.path());
    }
  }

  private static boolean hasJournal(OpenFolder stage) throws IOException {
    return stage.has(stage.name(Journal.NAME)) || stage.has(stage.name(Journal.BACK));
  }

  private static boolean homeHasJournal(Path home, Path name, OpenFolder.Opener opener)
      throws IOException {
    try (OpenFolder folder = opener.open(home)) {
      if (!folder.has(name) || !StageFolder.isOurs(folder, name)) {
        return false;
      }
      try (OpenFolder stage = folder.enter(name)) {
        return hasJournal(stage);
      }
    } catch (NoSuchFileException e) {
      return false;
    }
  }

  @SuppressWarnings("try") // holding the folders is all that is done with the lock
  private static void finish(OpenFolder home, Path name, OpenFolder.Opener opener)
      throws IOException {
    Journal journal;
    boolean back;
    try (OpenFolder stage = home.enter(name)) {
      back = stage.has(stage.name(Journal.BACK));
      journal = Journal.read(stage, back ? Journal.BACK : Journal.NAME);
    }
    if (journal.folders().isEmpty() || !isAt(home, journal.folders().get(0))) {
      LOG.warn("{} in {} was made for another folder and is left alone", name, home.path());
      throw new NoSuchFileException(name.toString());
    }
    List<OpenFolder> folders = new ArrayList<>();
    try {
      for (Journal.JournalPath place : journal.folders()) {
        OpenFolder folder = opener.open(place.path());
        folders.add(folder);
        if (!isAt(folder, place)) {
          throw new FileSystemException(
              place.path().toString(), null, "it is another folder than when the work began");
        }
      }
      try (FolderLock lock = FolderLock.hold(folders)) {
        Stages stages = Stages.of(folders, name);
        try {
          run(stages, journal, back);
        } finally {
          stages.close();
        }
        StageFolder.remove(folders, name.toString());
      }
    } finally {
      for (OpenFolder folder : folders) {
        folder.close();
      }
    }
  }

  private static void run(Stages stages, Journal journal, boolean back) throws IOException {
    Applier applier = new Applier(stages.rooms(), true);
    if (back) {
      applier.back(journal.changes());
      LOG.info("took back what an interrupted command had begun");
      return;
    }
    try {
      applier.forward(journal);
      LOG.info("finished what an interrupted command had begun");
    } catch (FileSystemException e) {
      LOG.info("took back what an interrupted command had begun", e);
      OpenFolder home = stages.rooms().get(0).stage().orElseThrow();
      home.rename(home.name(Journal.NAME), home, home.name(Journal.BACK));
      home.flush();
      applier.back(journal.changes());
    }
  }

  private static boolean isAt(OpenFolder folder, Journal.JournalPath place) throws IOException {
    return Snapshot.number(folder.attributes()).equals(place.number())
        && folder.path().equals(place.path());
  }

  /** The step's own folders, opened. */
  private record Stages(List<Applier.Room> rooms) {
    static Stages of(List<OpenFolder> folders, Path name) throws IOException {
      List<Applier.Room> rooms = new ArrayList<>();
      for (OpenFolder folder : folders) {
        boolean there = folder.has(name) && StageFolder.isOurs(folder, name);
        rooms.add(
            new Applier.Room(folder, there ? Optional.of(folder.enter(name)) : Optional.empty()));
      }
      return new Stages(rooms);
    }

    void close() throws IOException {
      for (Applier.Room room : rooms) {
        if (room.stage().isPresent()) {
          room.stage().get().close();
        }
      }
    }
  }
}
