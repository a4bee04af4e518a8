// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
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
 * <p>Each folder is opened once and held. What the step will make is put on record in the state
 * folder ({@link StepRecord}); then a folder is made in each of them that is this account's alone;
 * there the new files, and copies of those that they replace, are written, get their owner and mode
 * and are flushed. A journal in the record then says what is about to happen; from that moment on
 * the step counts as done, and whoever finds it interrupted finishes it ({@link Recovery}). Files
 * get their names by renames, and what lies there afterwards is compared with what was written. At
 * last what was replaced is kept for undo ({@link KeptVersions}), the folders of the step are
 * removed, and the record goes.
 */
final class Step implements Closeable {
  private static final Logger LOG = LoggerFactory.getLogger(Step.class);

  private final OpenFolder.Opener opener;
  private final StepPlan plan;
  private final IdentityHashMap<FileItem, EarlierVersion> restored = new IdentityHashMap<>();
  private @Nullable FolderLock lock;
  private @Nullable OpenFolder state;
  private @Nullable StepRecord record;
  private @Nullable Journal named; // once the files have their names
  private boolean committed;
  private boolean stuck; // what was begun could not be taken back: it stays on record

  Step(OpenFolder.Opener opener) {
    this.opener = opener;
    this.plan = new StepPlan(opener);
  }

  /** Says that an item is an earlier version, whose rights and time it gets. */
  void restoring(FileItem item, EarlierVersion kept) {
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
  void prepare(List<FileItem> items, Collection<Path> made) throws IOException {
    plan.place(items, made);
    lock = FolderWork.tidied(plan.folders(), opener);
    plan.look();
  }

  /**
   * Writes everything, and gives it its names.
   *
   * @param before what is done in between
   */
  void stage(Instant when, Runnable before) throws IOException {
    Path first = plan.hosts().get(0).folder.path();
    OpenFolder records = StateFolder.open(first.getFileSystem(), opener);
    state = records;
    StepRecord begun = StepRecord.begin(records);
    record = begun;
    Instant at =
        KeptVersions.freeMoment(
            records, plan.keeping().stream().map(OpenFolder::path).toList(), when);
    new StepFiles(plan, restored).write(begun, StageFolder.newName(), at);
    before.run();
    commit(begun, at);
  }

  private void commit(StepRecord begun, Instant at) throws IOException {
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
              plan.namesIn(made)));
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
                List.of()));
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
                List.of()));
      }
    }
    for (StepPlan.Part part : plan.parts()) {
      EarlierVersion kept = restored.get(part.item);
      if (kept != null) {
        drops.add(new Journal.Drop(part.host.position, kept.name()));
      }
    }
    Journal journal = new Journal(at, changes, drops);
    begun.commit(journal);
    named = journal;
    try {
      applier().forward(journal);
      committed = true;
    } catch (IOException e) {
      back(begun, journal);
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

  private void back(StepRecord begun, Journal journal) throws IOException {
    stuck = true;
    begun.takeBack();
    applier().back(journal.changes());
    stuck = false;
    committed = false;
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
    back(java.util.Objects.requireNonNull(record), java.util.Objects.requireNonNull(named));
    return changed;
  }

  /** What was written, in the order of the items. */
  List<WrittenItem> written() throws IOException {
    List<WrittenItem> written = new ArrayList<>();
    StepRecord begun = java.util.Objects.requireNonNull(record);
    for (StepPlan.Part part : plan.parts()) {
      Optional<Path> aside =
          part.isKept()
              ? Optional.of(
                  KeptVersions.place(
                      begun.state(), part.host.folder.path(), begun.number(), part.number))
              : Optional.empty();
      written.add(
          new WrittenItem(part.path(), aside, Access.of(part.rights.rights(), part.rights.lost())));
    }
    return written;
  }

  /**
   * Keeps for undo what was replaced, removes what was only for the step, and lets go of the
   * folders. What can't be done now stays on record for the next command.
   */
  @Override
  public void close() throws IOException {
    try {
      if (record != null && !stuck) {
        end(record);
      }
    } catch (IOException e) {
      if (committed) {
        LOG.warn("what was prepared could not be removed yet: {}", NotWritten.message(e));
      } else {
        LOG.debug("what was prepared could not be removed yet", e);
      }
    } finally {
      letGo();
    }
  }

  private void end(StepRecord begun) throws IOException {
    StepRecord.Stage stage = plan.stage;
    if (committed && stage != null) {
      KeptVersions.keep(begun, stage.rooms());
      applier().drop(begun.state(), java.util.Objects.requireNonNull(named));
      for (OpenFolder folder : plan.keeping()) {
        KeptVersions.prune(begun.state(), folder.path());
      }
    }
    begun.settle();
    for (StepPlan.Host host : plan.hosts()) {
      OpenFolder own = host.stage;
      if (own != null) {
        own.close();
      }
    }
    Optional<StepRecord.Stage> made = begun.stage();
    if (made.isPresent()) {
      StageFolder.remove(plan.folders(), made.get());
    }
    begun.finish();
  }

  @SuppressWarnings("try") // what is opened is only closed here, whatever happens to the others
  private void letGo() throws IOException {
    try (OpenFolder records = state;
        StepRecord begun = record;
        FolderLock held = lock) {
      for (StepPlan.Host host : plan.hosts()) {
        OpenFolder own = host.stage;
        if (own != null) {
          own.close();
        }
        host.folder.close();
      }
    }
  }
}
