// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.Closeable;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
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
  private final List<Host> hosts = new ArrayList<>();
  private final Map<Path, NewFolder> newFolders = new LinkedHashMap<>();
  private final List<Part> parts = new ArrayList<>();
  private final List<Leaving> leaving = new ArrayList<>();
  private final IdentityHashMap<FileSet.Item, Kept> restored = new IdentityHashMap<>();
  private @Nullable FolderLock lock;
  private boolean committed;
  private @Nullable Journal named; // once the files have their names
  private int numbers;

  Step(OpenFolder.Opener opener) {
    this.opener = opener;
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

  /**
   * A file that goes.
   *
   * @param path where it lies
   * @param note the name under which it is kept that none was there; not kept afterwards
   */
  record Going(Path path, String note) {}

  /** The same in its folder. */
  private record Leaving(Host host, Path name, int number, String note, Optional<Snapshot> old) {}

  /** Takes files away as well; to be said before anything else. */
  void takingAway(List<Going> files) throws IOException {
    for (Going one : files) {
      Path target = SafeFile.nameOf(one.path());
      Host host =
          host(SafeFile.folderOf(target), one.path())
              .orElseThrow(() -> SafeFile.noFolder(one.path(), SafeFile.folderOf(target)));
      leaving.add(
          new Leaving(host, SafeFile.lastName(target), numbers++, one.note(), Optional.empty()));
    }
  }

  /** Says that an item is an earlier version, whose rights and time it gets. */
  void restoring(FileSet.Item item, Kept kept) {
    restored.put(item, kept);
  }

  /** A folder that was to be made is there by now: another step has made it. */
  static final class FolderAppeared extends FileSystemException {
    private static final long serialVersionUID = 1L;

    FolderAppeared(Path folder) {
      super(folder.toString(), null, "it was made by another command in the meantime");
    }
  }

  /** A folder that something gets its name in. */
  private static final class Host {
    final int position;
    final OpenFolder folder;
    @Nullable OpenFolder stage;

    Host(int position, OpenFolder folder) {
      this.position = position;
      this.folder = folder;
    }
  }

  /** A folder that is made with its files in it. */
  private record NewFolder(Host host, Path name, int number) {}

  /** A file of the step. */
  private static final class Part {
    final FileSet.Item item;
    final Host host;
    final @Nullable NewFolder inside;
    final Path name;
    final int number;
    Optional<Snapshot> old = Optional.empty();
    Optional<Rights> oldRights = Optional.empty();
    ResultRights rights = new ResultRights(new Rights.None(), Optional.empty());
    @Nullable Snapshot fresh;
    Optional<Path> aside = Optional.empty();

    Part(FileSet.Item item, Host host, @Nullable NewFolder inside, Path name, int number) {
      this.item = item;
      this.host = host;
      this.inside = inside;
      this.name = name;
      this.number = number;
    }

    boolean isKept() {
      return old.isPresent() && item.undo();
    }

    /** Whether it is kept that there was no such file. */
    boolean isNoted() {
      return old.isEmpty() && inside == null && item.goes();
    }

    boolean isIn(NewFolder folder) {
      NewFolder made = inside;
      return made != null && made.number() == folder.number();
    }

    Path path() {
      NewFolder made = inside;
      return made == null
          ? host.folder.path().resolve(name)
          : host.folder.path().resolve(made.name()).resolve(name);
    }
  }

  /**
   * Opens the folders, takes them, and looks whether all of it can be written.
   *
   * @param made folders that are made with the files in them, if they are not there
   */
  void prepare(List<FileSet.Item> items, Collection<Path> made) throws IOException {
    for (FileSet.Item item : items) {
      place(item, made);
    }
    lock = FolderLock.hold(hosts.stream().map(host -> host.folder).toList());
    for (Host host : hosts) {
      Recovery.tidyNowAndThen(host.folder, opener);
    }
    for (NewFolder folder : newFolders.values()) {
      if (folder.host().folder.has(folder.name())) {
        throw new FolderAppeared(folder.host().folder.path().resolve(folder.name()));
      }
    }
    for (Part part : parts) {
      look(part);
    }
    for (int i = 0; i < leaving.size(); i++) {
      leaving.set(i, looked(leaving.get(i)));
    }
  }

  /** What goes must be a file; one that is gone already needs nothing more. */
  private static Leaving looked(Leaving one) throws IOException {
    OpenFolder folder = one.host().folder;
    Optional<Snapshot> there = Snapshot.of(folder, one.name());
    if (there.isPresent() && !folder.attributes(one.name()).isRegularFile()) {
      throw SafeFile.refused(
          Reason.NOT_WRITABLE,
          folder.path().resolve(one.name()),
          "This is no longer an ordinary file.",
          "Look at it; it was left as it is.");
    }
    return new Leaving(one.host(), one.name(), one.number(), one.note(), there);
  }

  private void place(FileSet.Item item, Collection<Path> made) throws IOException {
    Path target = SafeFile.nameOf(item.target());
    Path folder = SafeFile.folderOf(target);
    Path name = SafeFile.lastName(target);
    Optional<Host> host = host(folder, item.target());
    if (host.isEmpty()) {
      if (!made.stream().map(SafeFile::nameOf).toList().contains(folder)) {
        throw SafeFile.noFolder(item.target(), folder);
      }
      NewFolder inside = newFolder(folder, item.target());
      parts.add(new Part(item, inside.host(), inside, name, 0));
      return;
    }
    OpenFolder open = host.get().folder;
    if (item.existing() == Existing.REPLACE
        && open.has(name)
        && open.attributes(name).isSymbolicLink()) {
      placeBehindLink(item, open, name);
      return;
    }
    parts.add(new Part(item, host.get(), null, name, numbers++));
  }

  /** A link keeps being a link: what it leads to is what is replaced. */
  private void placeBehindLink(FileSet.Item item, OpenFolder folder, Path name) throws IOException {
    Path link = folder.path().resolve(name);
    if (folder.rights(name) instanceof Rights.Posix rights
        && !FolderGuard.mayFollow(folder, rights)) {
      throw new ForeignLinkException(link);
    }
    Path real;
    try {
      real = link.toRealPath();
    } catch (NoSuchFileException e) {
      // A link to nowhere is replaced itself.
      parts.add(new Part(item, hostOf(folder), null, name, numbers++));
      return;
    }
    Host host =
        host(SafeFile.folderOf(real), item.target())
            .orElseThrow(() -> SafeFile.noFolder(item.target(), SafeFile.folderOf(real)));
    parts.add(new Part(item, host, null, SafeFile.lastName(real), numbers++));
  }

  private NewFolder newFolder(Path folder, Path target) throws IOException {
    NewFolder known = newFolders.get(folder);
    if (known != null) {
      return known;
    }
    Path around = SafeFile.folderOf(folder);
    Host host = host(around, target).orElseThrow(() -> SafeFile.noFolder(target, around));
    NewFolder fresh = new NewFolder(host, SafeFile.lastName(folder), numbers++);
    newFolders.put(folder, fresh);
    return fresh;
  }

  private Host hostOf(OpenFolder folder) {
    return hosts.stream().filter(host -> host.folder == folder).findFirst().orElseThrow();
  }

  /** The folder of that name, opened; nothing if there is none. */
  private Optional<Host> host(Path folder, Path target) throws IOException {
    OpenFolder open;
    try {
      open = opener.open(folder);
    } catch (NoSuchFileException e) {
      return Optional.empty();
    } catch (java.nio.file.NotDirectoryException e) {
      throw SafeFile.refused(
          Reason.NOT_WRITABLE,
          target,
          SafeFile.shown(folder) + " is no folder.",
          "Check the name.");
    }
    for (Host host : hosts) {
      if (host.folder.path().equals(open.path())) {
        open.close();
        return Optional.of(host);
      }
    }
    Host host = new Host(hosts.size(), open);
    hosts.add(host);
    return Optional.of(host);
  }

  /** What is there now, and whether it may be replaced. */
  private void look(Part part) throws IOException {
    if (part.inside != null) {
      return;
    }
    OpenFolder folder = part.host.folder;
    if (!folder.has(part.name)) {
      if (part.item.expected().isPresent()) {
        throw new Applier.ChangedMeanwhile(part.path());
      }
      return;
    }
    BasicFileAttributes attributes = folder.attributes(part.name);
    if (attributes.isDirectory()) {
      throw SafeFile.isFolder(part.item.target());
    }
    if (part.item.existing() == Existing.KEEP) {
      throw SafeFile.exists(part.item.target());
    }
    if (!attributes.isRegularFile() && !attributes.isSymbolicLink()) {
      throw SafeFile.refused(
          Reason.NOT_WRITABLE,
          part.item.target(),
          "This is a device, a pipe or a socket, not a file.",
          "Choose another name; only ordinary files are replaced.");
    }
    if (attributes.isSymbolicLink()) {
      folder.delete(part.name); // to nowhere
      return;
    }
    part.old = Optional.of(Snapshot.of(attributes));
    part.oldRights = Optional.of(folder.rights(part.name));
    if (part.item.expected().isPresent() && !part.item.expected().equals(part.old)) {
      throw new Applier.ChangedMeanwhile(part.path());
    }
  }

  /**
   * Writes everything, and gives it its names.
   *
   * @param before what is done in between
   */
  void stage(Instant when, Runnable before) throws IOException {
    for (Host host : hosts) {
      OpenFolder stage = host.folder.make(host.folder.name(stageName));
      host.stage = stage;
      if (host.position > 0) {
        StageFolder.writeHome(stage, hosts.get(0).folder);
      }
    }
    for (Map.Entry<Path, NewFolder> entry : newFolders.entrySet()) {
      stageFolder(entry.getValue());
    }
    for (Part part : parts) {
      if (part.inside == null) {
        OpenFolder stage = stageOf(part.host);
        write(part, stage, stage.name(part.number + ".new"), part.host.folder);
        if (part.old.isPresent()) {
          copyOld(part, stage);
        } else if (part.isNoted()) {
          stage.create(stage.name(part.number + ".old")).close();
        }
      }
    }
    for (Leaving one : leaving) {
      OpenFolder stage = stageOf(one.host());
      stage.create(stage.name(one.number() + ".new")).close();
    }
    for (Host host : hosts) {
      stageOf(host).flush();
      host.folder.flush();
    }
    before.run();
    commit(when);
  }

  private static OpenFolder stageOf(Host host) {
    return java.util.Objects.requireNonNull(host.stage);
  }

  private void stageFolder(NewFolder made) throws IOException {
    OpenFolder stage = stageOf(made.host());
    try (OpenFolder inside = stage.make(stage.name(made.number() + ".new"))) {
      for (Part part : parts) {
        if (part.isIn(made)) {
          write(part, inside, part.name, made.host().folder);
        }
      }
      inside.flush();
    }
    if (stage.rights(stage.name(made.number() + ".new")) instanceof Rights.Posix rights) {
      boolean secret =
          parts.stream()
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
  private void write(Part part, OpenFolder stage, Path name, OpenFolder folder) throws IOException {
    Kept kept = restored.get(part.item);
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
      Part part, OpenFolder stage, Path name, Rights made, ResultRights wanted) throws IOException {
    try {
      stage.give(name, wanted.rights());
      return wanted;
    } catch (FileSystemException e) {
      if (part.item.owner().isPresent()) {
        throw SafeFile.refused(
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

  /** A copy of what is replaced, with its rights and its time: what undo brings back. */
  private static void copyOld(Part part, OpenFolder stage) throws IOException {
    OpenFolder folder = part.host.folder;
    Path copy = stage.name(part.number + ".old");
    Snapshot old = part.old.orElseThrow();
    try (FileChannel from = folder.read(part.name);
        FileChannel to = stage.create(copy)) {
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
    Rights rights = part.oldRights.orElseThrow();
    try {
      stage.give(copy, rights);
    } catch (FileSystemException e) {
      LOG.debug("the owner of the copy of {} could not be kept", part.path(), e);
    }
    stage.touch(copy, FileTime.from(old.changed()));
    if (!Snapshot.of(folder, part.name).equals(part.old)) {
      throw new Applier.ChangedMeanwhile(part.path());
    }
  }

  private void commit(Instant when) throws IOException {
    String stamp = Undo.freeStamp(keeping(), when);
    List<Journal.JournalPath> places = new ArrayList<>();
    for (Host host : hosts) {
      places.add(
          new Journal.JournalPath(host.folder.path(), Snapshot.number(host.folder.attributes())));
    }
    List<Journal.Change> changes = new ArrayList<>();
    // New folders first: what is in them may be what the other files need.
    for (NewFolder made : newFolders.values()) {
      OpenFolder stage = stageOf(made.host());
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
    for (Part part : parts) {
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
    for (Leaving one : leaving) {
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
    for (Part part : parts) {
      Kept kept = restored.get(part.item);
      if (kept != null) {
        drops.add(new Journal.Drop(part.host.position, kept.name()));
      }
    }
    Journal journal = new Journal(places, changes, drops);
    OpenFolder home = stageOf(hosts.get(0));
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
        hosts.stream()
            .map(host -> new Applier.Room(host.folder, Optional.ofNullable(host.stage)))
            .toList(),
        false);
  }

  private void back(Journal journal) throws IOException {
    OpenFolder home = stageOf(hosts.get(0));
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
    for (Part part : parts) {
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
    for (Part part : parts) {
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

  /** The folders in which something is kept for undo. */
  private List<OpenFolder> keeping() {
    return java.util.stream.Stream.concat(
            parts.stream()
                .filter(part -> part.isKept() || part.isNoted())
                .map(part -> part.host.folder),
            leaving.stream().map(one -> one.host().folder))
        .distinct()
        .toList();
  }

  /** What was written, in the order of the items. */
  List<FileSet.Written> written() throws IOException {
    List<FileSet.Written> written = new ArrayList<>();
    for (Part part : parts) {
      written.add(
          new FileSet.Written(
              part.path(), part.aside, Access.of(part.rights.rights(), part.rights.lost())));
    }
    for (OpenFolder folder : keeping()) {
      Undo.prune(folder);
    }
    return written;
  }

  /** Removes what was only for the step, and lets go of the folders. */
  @Override
  public void close() throws IOException {
    try {
      for (Host host : hosts) {
        OpenFolder stage = host.stage;
        if (stage != null) {
          stage.close();
        }
      }
      if (lock != null) {
        StageFolder.remove(hosts.stream().map(host -> host.folder).toList(), stageName);
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
      for (Host host : hosts) {
        host.folder.close();
      }
    }
  }

  /** The failure that a caller can act on. */
  static SymbolonException failure(IOException e, Path target) {
    if (e instanceof FileAlreadyExistsException) {
      return SafeFile.exists(target);
    }
    if (e instanceof Applier.ChangedMeanwhile) {
      return SafeFile.refused(
          Reason.CHANGED,
          target,
          "Somebody else has changed it since it was read.",
          "Give the command again.",
          e);
    }
    if (e instanceof ForeignLinkException foreign) {
      return SafeFile.refused(
          Reason.NOT_WRITABLE,
          target,
          "On the way to it is the link "
              + SafeFile.shown(Path.of(foreign.getFile()))
              + ", in a folder that another account can change.",
          "Give the path that the link leads to.",
          e);
    }
    return SafeFile.refused(
        Reason.NOT_WRITABLE,
        target,
        "The system says: " + SafeFile.message(e) + ".",
        "Check the rights and the free space of the folder.",
        e);
  }
}
