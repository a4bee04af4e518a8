// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.FileSystemException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Writes the new files of a {@link Step}, and copies of those that they replace, into folders that
 * are this account's alone; with owner, mode and time, and flushed.
 */
final class StepFiles {
  private static final Logger LOG = LoggerFactory.getLogger(StepFiles.class);

  private final StepPlan plan;
  private final Map<FileItem, EarlierVersion> restored;

  /**
   * For what is planned.
   *
   * @param restored the items that are earlier versions, by identity
   */
  StepFiles(StepPlan plan, Map<FileItem, EarlierVersion> restored) {
    this.plan = plan;
    this.restored = restored;
  }

  /** Makes the folders of the step, on record before and after, and writes all of it. */
  void write(StepRecord record, String stageName, Instant at) throws IOException {
    StepRecord.Stage planned = StepRecord.Stage.of(stageName, rooms());
    record.write(planned);
    List<StepRecord.Room> made = new ArrayList<>();
    for (StepPlan.Host host : plan.hosts()) {
      OpenFolder stage = host.folder.make(host.folder.name(stageName));
      host.stage = stage;
      made.add(planned.rooms().get(host.position).with(stage.id()));
    }
    StepRecord.Stage stageMade = planned.with(made);
    plan.stage = stageMade;
    record.write(stageMade);
    for (StepPlan.Host host : plan.hosts()) {
      StageFolder.mark(host.stage(), planned.key());
    }
    for (StepPlan.NewFolder one : plan.newFolders()) {
      stageFolder(one);
    }
    for (StepPlan.Part part : plan.parts()) {
      if (part.inside == null) {
        OpenFolder stage = part.host.stage();
        write(part, stage, stage.name(part.number + ".new"), part.host.folder);
        if (part.old.isPresent()) {
          copyOld(part, stage, record);
        } else if (part.isNoted()) {
          KeptVersions.noteAbsent(record.folder(), part.number);
        }
      }
    }
    for (StepPlan.Leaving one : plan.leaving()) {
      OpenFolder stage = one.host().stage();
      stage.create(stage.name(one.number() + ".new")).close();
      if (one.old().isPresent()) {
        keep(one.host().folder, one.name(), record, one.number());
      }
    }
    for (StepPlan.Host host : plan.hosts()) {
      List<KeptVersions.Kept> kept = kept(host);
      if (!kept.isEmpty()) {
        KeptVersions.note(record.folder(), host.position, host.folder, at, kept);
      }
      host.stage().flush();
      host.folder.flush();
    }
  }

  /** What will be in the step's own folders. */
  private List<StepRecord.Room> rooms() throws IOException {
    List<StepRecord.Room> rooms = new ArrayList<>();
    for (StepPlan.Host host : plan.hosts()) {
      List<StepRecord.Held> holds = new ArrayList<>();
      for (StepPlan.NewFolder one : plan.newFolders()) {
        if (one.host() == host) {
          holds.add(new StepRecord.Held(one.number() + ".new", true, plan.namesIn(one)));
        }
      }
      for (StepPlan.Part part : plan.parts()) {
        if (part.host == host && part.inside == null) {
          holds.add(StepRecord.Held.file(part.number + ".new"));
          holds.add(StepRecord.Held.file(part.number + ".old"));
        }
      }
      for (StepPlan.Leaving one : plan.leaving()) {
        if (one.host() == host) {
          holds.add(StepRecord.Held.file(one.number() + ".new"));
          holds.add(StepRecord.Held.file(one.number() + ".old"));
        }
      }
      rooms.add(new StepRecord.Room(host.folder.path(), host.folder.id(), Optional.empty(), holds));
    }
    return rooms;
  }

  private List<KeptVersions.Kept> kept(StepPlan.Host host) {
    List<KeptVersions.Kept> kept = new ArrayList<>();
    for (StepPlan.Part part : plan.parts()) {
      if (part.host == host && (part.isKept() || part.isNoted())) {
        kept.add(new KeptVersions.Kept(part.name, part.number, part.isNoted()));
      }
    }
    for (StepPlan.Leaving one : plan.leaving()) {
      if (one.host() == host && one.old().isPresent()) {
        kept.add(new KeptVersions.Kept(one.name(), one.number(), false));
      }
    }
    return kept;
  }

  private void stageFolder(StepPlan.NewFolder made) throws IOException {
    OpenFolder stage = made.host().stage();
    try (OpenFolder inside = stage.make(stage.name(made.number() + ".new"))) {
      for (StepPlan.Part part : plan.parts()) {
        if (part.isIn(made)) {
          write(part, inside, part.name, made.host().folder);
        }
      }
      inside.flush();
    }
    if (stage.rights(stage.name(made.number() + ".new")) instanceof Rights.Posix rights) {
      boolean secret =
          plan.parts().stream()
              .anyMatch(
                  part ->
                      part.isIn(made)
                          && part.item.privacy() == Privacy.OWNER_ONLY
                          && part.item.owner().isEmpty());
      // A file for another account must be reached by it; its own rights keep everybody else out.
      if (!secret) {
        stage.give(stage.name(made.number() + ".new"), rights.with(PublicMode.folderPermissions()));
      }
    }
  }

  /**
   * Writes one file. The channel stays open from its creation to the end of its content; the folder
   * it is in is nobody else's, so that its name means this file until it is renamed.
   */
  private void write(StepPlan.Part part, OpenFolder stage, Path name, OpenFolder folder)
      throws IOException {
    EarlierVersion kept = restored.get(part.item);
    try (FileChannel channel = stage.create(name)) {
      ByteBuffer buffer = ByteBuffer.wrap(part.item.content());
      while (buffer.hasRemaining()) {
        channel.write(buffer);
      }
      Rights made = stage.rights(name);
      ResultRights wanted =
          kept != null
              ? new ResultRights(kept.rights(), Optional.empty())
              : ResultRights.of(
                  folder, made, part.oldRights, part.item.privacy(), part.item.owner());
      if (part.item.privacy() == Privacy.OWNER_ONLY) {
        FolderGuard.checkPrivate(folder, part.item.target(), wanted.rights(), part.oldRights);
      }
      part.rights = give(part, stage, name, made, wanted);
      channel.force(true);
    }
    if (kept != null) {
      stage.touch(name, kept.changed());
    }
    part.fresh = Snapshot.of(stage.attributes(name));
  }

  private static ResultRights give(
      StepPlan.Part part, OpenFolder stage, Path name, Rights made, ResultRights wanted)
      throws IOException {
    try {
      stage.give(name, wanted.rights());
      return wanted;
    } catch (FileSystemException e) {
      if (part.item.owner().isPresent()) {
        throw NotWritten.refused(
            Reason.NOT_WRITABLE,
            part.item.target(),
            "This account may not give a file to "
                + io.symbolon.text.VisibleText.of(part.item.owner().get().user())
                + ".",
            "Run the command as root or as that account.",
            e);
      }
      ResultRights own = wanted.own(made);
      stage.give(name, own.rights());
      return own;
    }
  }

  /**
   * Copies of what is replaced, with its rights and its time: one in the step's own folder, for
   * taking the step back, and one in its record, for undo.
   */
  private static void copyOld(StepPlan.Part part, OpenFolder stage, StepRecord record)
      throws IOException {
    OpenFolder folder = part.host.folder;
    Path copy = stage.name(part.number + ".old");
    Rights rights = part.oldRights.orElseThrow();
    copy(folder, part.name, stage, copy, rights);
    if (part.isKept()) {
      copy(stage, copy, record.folder(), record.folder().name(part.number + ".old"), rights);
    }
    if (!Snapshot.of(folder, part.name).equals(part.old)) {
      throw new ChangedMeanwhileException(part.path());
    }
  }

  private static void keep(OpenFolder folder, Path name, StepRecord record, int number)
      throws IOException {
    copy(folder, name, record.folder(), record.folder().name(number + ".old"), folder.rights(name));
  }

  private static void copy(
      OpenFolder fromFolder, Path name, OpenFolder toFolder, Path copy, Rights rights)
      throws IOException {
    FileTime changed = fromFolder.attributes(name).lastModifiedTime();
    try (FileChannel from = fromFolder.read(name);
        FileChannel to = toFolder.create(copy)) {
      long at = 0;
      long size = from.size();
      while (at < size) {
        long moved = from.transferTo(at, size - at, to);
        if (moved <= 0) {
          break;
        }
        at += moved;
      }
      to.force(true);
    }
    try {
      toFolder.give(copy, rights);
    } catch (FileSystemException | ClassCastException e) {
      LOG.debug("the owner of the copy of {} could not be kept", name, e);
    }
    toFolder.touch(copy, changed);
  }
}
