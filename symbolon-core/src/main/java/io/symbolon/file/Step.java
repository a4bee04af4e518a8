// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Several files that get their names together: all of them or none, also when the process is killed
 * in between.
 *
 * <p>Each folder is opened once and held. In it a folder is made that is this account's alone;
 * there the new files, and copies of those that they replace, are written, get their owner and mode
 * and are flushed. A journal then says what is about to happen; from that moment on the step counts
 * as done, and whoever finds it interrupted finishes it ({@link Recovery}). Copies go to the folder
 * for undo, files get their names by renames, and what lies there afterwards is compared with what
 * was written. At last the folders of the step are removed, the one with the journal last.
 */
final class Step implements Closeable {
  private static final Logger LOG = LoggerFactory.getLogger(Step.class);

  private final OpenFolder.Opener opener;
  private final String stageName;
  private final StepPlan plan;
  private final IdentityHashMap<FileSet.Item, Kept> restored = new IdentityHashMap<>();
  private @Nullable FolderLock lock;
  private boolean committed;
  private @Nullable Journal named; // once the files have their names

  Step(OpenFolder.Opener opener) {
    this.opener = opener;
    this.plan = new StepPlan(opener);
    this.stageName = StageFolder.newName();
  }

  /**
   * An earlier version that is brought back.
   *
   * @param rights what it had
   * @param changed when it was last changed
   * @param name the name under which it is kept, and is not kept afterwards
   */
  record Kept(Rights rights, FileTime changed, String name) {}

  /** Says that an item is an earlier version, whose rights and time it gets. */
  void restoring(FileSet.Item item, Kept kept) {
    restored.put(item, kept);
  }

  /** Takes files away as well; to be said before anything else. */
  void takingAway(List<StepPlan.Going> files) throws IOException {
    plan.takingAway(files);
  }

  /**
   * Opens the folders, takes them, and looks whether all of it can be written.
   *
   * @param made folders that are made with the files in them, if they are not there
   */
  void prepare(List<FileSet.Item> items, Collection<Path> made) throws IOException {
    plan.place(items, made);
    lock = FolderLock.hold(plan.folders());
    for (OpenFolder folder : plan.folders()) {
      Recovery.tidyNowAndThen(folder, opener);
    }
    plan.look();
  }

  /**
   * Writes everything, and gives it its names.
   *
   * @param before what is done in between
   */
  void stage(Instant when, Runnable before) throws IOException {
    new StepFiles(plan, restored).write(stageName);
    before.run();
    commit(when);
  }

  private void commit(Instant when) throws IOException {
    String stamp = Undo.freeStamp(plan.keeping(), when);
    List<Journal.JournalPath> places = new ArrayList<>();
    for (StepPlan.Host host : plan.hosts()) {
      places.add(
          new Journal.JournalPath(host.folder.path(), Snapshot.number(host.folder.attributes())));
    }
    List<Journal.Change> changes = new ArrayList<>();
    // New folders first: what is in them may be what the other files need.
    for (StepPlan.NewFolder made : plan.newFolders()) {
      OpenFolder stage = made.host().stage();
      changes.add(
          new Journal.Change(
              made.host().position,
              made.number(),
              made.name(),
              Journal.Change.ChangeKind.FOLDER,
              Optional.empty(),
              Snapshot.of(stage.attributes(stage.name(made.number() + ".new"))),
              ""));
    }
    for (StepPlan.Part part : plan.parts()) {
      if (part.inside == null) {
        changes.add(
            new Journal.Change(
                part.host.position,
                part.number,
                part.name,
                Journal.Change.ChangeKind.FILE,
                part.old,
                java.util.Objects.requireNonNull(part.fresh),
                part.isKept()
                    ? Undo.keptName(stamp, part.name)
                    : part.isNoted() ? Undo.absentName(stamp, part.name) : ""));
      }
    }
    List<Journal.Drop> drops = new ArrayList<>();
    for (StepPlan.Leaving one : plan.leaving()) {
      drops.add(new Journal.Drop(one.host().position, one.note()));
      if (one.old().isPresent()) {
        changes.add(
            new Journal.Change(
                one.host().position,
                one.number(),
                one.name(),
                Journal.Change.ChangeKind.GONE,
                one.old(),
                one.old().get(),
                Undo.keptName(stamp, one.name())));
      }
    }
    for (StepPlan.Part part : plan.parts()) {
      Kept kept = restored.get(part.item);
      if (kept != null) {
        drops.add(new Journal.Drop(part.host.position, kept.name()));
      }
    }
    Journal journal = new Journal(places, changes, drops);
    OpenFolder home = plan.hosts().get(0).stage();
    journal.write(home);
    named = journal;
    try {
      applier().forward(journal);
      committed = true;
      noteAsides(stamp);
    } catch (IOException e) {
      back(journal);
      throw e;
    }
  }

  private Applier applier() {
    return new Applier(
        plan.hosts().stream()
            .map(host -> new Applier.Room(host.folder, Optional.ofNullable(host.stage)))
            .toList(),
        false);
  }

  private void back(Journal journal) throws IOException {
    OpenFolder home = plan.hosts().get(0).stage();
    home.rename(home.name(Journal.NAME), home, home.name(Journal.BACK));
    home.flush();
    applier().back(journal.changes());
  }

  /**
   * Takes back what has been done, in the same way as after a crash.
   *
   * @return files that somebody else has changed since, and which therefore stay as they are
   */
  List<Path> takeBack() throws IOException {
    List<Path> changed = new ArrayList<>();
    for (StepPlan.Part part : plan.parts()) {
      boolean same =
          part.inside != null
              || Snapshot.of(part.host.folder, part.name).equals(Optional.ofNullable(part.fresh));
      if (!same) {
        changed.add(part.path());
      }
    }
    back(java.util.Objects.requireNonNull(named));
    return changed;
  }

  private void noteAsides(String stamp) throws IOException {
    for (StepPlan.Part part : plan.parts()) {
      if (part.isKept()) {
        Optional<OpenFolder> undo = UndoFolder.open(part.host.folder);
        if (undo.isPresent()) {
          try (OpenFolder kept = undo.get()) {
            part.aside = Optional.of(kept.path().resolve(Undo.keptName(stamp, part.name)));
          }
        }
      }
    }
  }

  /** What was written, in the order of the items. */
  List<FileSet.Written> written() throws IOException {
    List<FileSet.Written> written = new ArrayList<>();
    for (StepPlan.Part part : plan.parts()) {
      written.add(
          new FileSet.Written(
              part.path(), part.aside, Access.of(part.rights.rights(), part.rights.lost())));
    }
    for (OpenFolder folder : plan.keeping()) {
      Undo.prune(folder);
    }
    return written;
  }

  /** Removes what was only for the step, and lets go of the folders. */
  @Override
  public void close() throws IOException {
    try {
      for (StepPlan.Host host : plan.hosts()) {
        OpenFolder stage = host.stage;
        if (stage != null) {
          stage.close();
        }
      }
      if (lock != null) {
        StageFolder.remove(plan.folders(), stageName);
      }
    } catch (IOException e) {
      if (committed) {
        LOG.warn("what was prepared could not be removed: {}", SafeFile.message(e));
      } else {
        LOG.debug("what was prepared could not be removed", e);
      }
    } finally {
      if (lock != null) {
        lock.close();
      }
      for (StepPlan.Host host : plan.hosts()) {
        host.folder.close();
      }
    }
  }
}
