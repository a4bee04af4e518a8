// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import java.io.IOException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What a {@link Step} is about: the folders, each opened once and held; the files that get a name
 * in them, and those that go. Whether all of it may be done is looked at when the folders are
 * locked.
 */
final class StepPlan {
  private final OpenFolder.Opener opener;
  private final List<Host> hosts = new ArrayList<>();
  private final Map<Path, NewFolder> newFolders = new LinkedHashMap<>();
  private final List<Part> parts = new ArrayList<>();
  private final List<Leaving> leaving = new ArrayList<>();
  private int numbers;
  StepRecord.@Nullable Stage stage; // once the step's own folders are made

  StepPlan(OpenFolder.Opener opener) {
    this.opener = opener;
  }

  /**
   * A file that goes.
   *
   * @param path where it lies
   * @param note the name under which it is kept that none was there; not kept afterwards
   */
  record Going(Path path, String note) {}

  /** The same in its folder. */
  record Leaving(Host host, Path name, int number, String note, Optional<Snapshot> old) {}

  /** A folder that was to be made is there by now: another step has made it. */
  static final class FolderAppeared extends FileSystemException {
    private static final long serialVersionUID = 1L;

    FolderAppeared(Path folder) {
      super(folder.toString(), null, "it was made by another command in the meantime");
    }
  }

  /** A folder that something gets its name in. */
  static final class Host {
    final int position;
    final OpenFolder folder;
    @Nullable OpenFolder stage;

    Host(int position, OpenFolder folder) {
      this.position = position;
      this.folder = folder;
    }

    /** The step's own folder in it, once it is made. */
    OpenFolder stage() {
      return Objects.requireNonNull(stage);
    }
  }

  /** A folder that is made with its files in it. */
  record NewFolder(Host host, Path name, int number) {}

  /** A file of the step. */
  static final class Part {
    final FileItem item;
    final Host host;
    final @Nullable NewFolder inside;
    final Path name;
    final int number;
    Optional<Snapshot> old = Optional.empty();
    Optional<Rights> oldRights = Optional.empty();
    ResultRights rights = new ResultRights(new Rights.None(), Optional.empty());
    @Nullable Snapshot fresh;
    Optional<Path> aside = Optional.empty();

    Part(FileItem item, Host host, @Nullable NewFolder inside, Path name, int number) {
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

  /** Takes files away as well; to be said before anything else. */
  void takingAway(List<Going> files) throws IOException {
    for (Going one : files) {
      Path target = TargetName.whole(one.path());
      Host host =
          host(TargetName.folder(target), one.path())
              .orElseThrow(() -> NotWritten.noFolder(one.path(), TargetName.folder(target)));
      leaving.add(
          new Leaving(host, TargetName.last(target), numbers++, one.note(), Optional.empty()));
    }
  }

  /**
   * Finds the folder of each file, and opens it.
   *
   * @param made folders that are made with the files in them, if they are not there
   */
  void place(List<FileItem> items, Collection<Path> made) throws IOException {
    for (FileItem item : items) {
      place(item, made);
    }
  }

  /** Looks at what is there now, which nobody else of us changes any more. */
  void look() throws IOException {
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

  List<Host> hosts() {
    return hosts;
  }

  List<OpenFolder> folders() {
    return hosts.stream().map(host -> host.folder).toList();
  }

  Collection<NewFolder> newFolders() {
    return newFolders.values();
  }

  List<Part> parts() {
    return parts;
  }

  /** The names of the files in a new folder. */
  List<String> namesIn(NewFolder folder) {
    return parts.stream()
        .filter(part -> part.isIn(folder))
        .map(part -> part.name.toString())
        .toList();
  }

  List<Leaving> leaving() {
    return leaving;
  }

  /** The folders in which something is kept for undo. */
  List<OpenFolder> keeping() {
    return java.util.stream.Stream.concat(
            parts.stream()
                .filter(part -> part.isKept() || part.isNoted())
                .map(part -> part.host.folder),
            leaving.stream().map(one -> one.host().folder))
        .distinct()
        .toList();
  }

  /** What goes must be a file; one that is gone already needs nothing more. */
  private static Leaving looked(Leaving one) throws IOException {
    OpenFolder folder = one.host().folder;
    Optional<Snapshot> there = Snapshot.of(folder, one.name());
    if (there.isPresent() && !folder.attributes(one.name()).isRegularFile()) {
      throw NotWritten.refused(
          Reason.NOT_WRITABLE,
          folder.path().resolve(one.name()),
          "This is no longer an ordinary file.",
          "Look at it; it was left as it is.");
    }
    return new Leaving(one.host(), one.name(), one.number(), one.note(), there);
  }

  private void place(FileItem item, Collection<Path> made) throws IOException {
    Path target = TargetName.whole(item.target());
    Path folder = TargetName.folder(target);
    Path name = TargetName.last(target);
    Optional<Host> host = host(folder, item.target());
    if (host.isEmpty()) {
      if (!made.stream().map(TargetName::whole).toList().contains(folder)) {
        throw NotWritten.noFolder(item.target(), folder);
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
  private void placeBehindLink(FileItem item, OpenFolder folder, Path name) throws IOException {
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
        host(TargetName.folder(real), item.target())
            .orElseThrow(() -> NotWritten.noFolder(item.target(), TargetName.folder(real)));
    parts.add(new Part(item, host, null, TargetName.last(real), numbers++));
  }

  private NewFolder newFolder(Path folder, Path target) throws IOException {
    NewFolder known = newFolders.get(folder);
    if (known != null) {
      return known;
    }
    Path around = TargetName.folder(folder);
    Host host = host(around, target).orElseThrow(() -> NotWritten.noFolder(target, around));
    NewFolder fresh = new NewFolder(host, TargetName.last(folder), numbers++);
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
      throw NotWritten.refused(
          Reason.NOT_WRITABLE,
          target,
          NotWritten.shown(folder) + " is no folder.",
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
        throw new ChangedMeanwhileException(part.path());
      }
      return;
    }
    BasicFileAttributes attributes = folder.attributes(part.name);
    if (attributes.isDirectory()) {
      throw NotWritten.isFolder(part.item.target());
    }
    if (part.item.existing() == Existing.KEEP) {
      throw NotWritten.exists(part.item.target());
    }
    if (!attributes.isRegularFile() && !attributes.isSymbolicLink()) {
      throw NotWritten.refused(
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
      throw new ChangedMeanwhileException(part.path());
    }
  }
}
