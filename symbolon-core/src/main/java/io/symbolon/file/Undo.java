// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import java.io.IOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Lists what was replaced, brings it back, and forgets it.
 *
 * <p>What is kept lies in the state folder of the account that replaced it ({@link StateFolder}),
 * where nobody else can write: a copy of the file with its owner, its mode and its time. What lies
 * beside the files themselves is never brought back, whatever it is called. The number of the
 * command gives the order, since a clock may go wrong; the moment is shown, to the millisecond. Of
 * each file the latest {@value #MOST_VERSIONS} versions are kept.
 */
public final class Undo {
  /** How many versions of one file are kept; older ones go when another is added. */
  public static final int MOST_VERSIONS = KeptVersions.MOST;

  private static final DateTimeFormatter STAMP =
      DateTimeFormatter.ofPattern("uuuuMMdd'T'HHmmss.SSS'Z'").withZone(ZoneOffset.UTC);

  private Undo() {}

  /**
   * An earlier version of a file.
   *
   * @param target the file it was
   * @param replacedAt when it was replaced, by the clock of that moment
   * @param absent whether there was no such file: bringing that back takes the file away
   * @param number the number of the command that replaced it: a later one has a greater number
   */
  public record Version(Path target, Path kept, Instant replacedAt, boolean absent, long number) {}

  /**
   * {@return the earlier versions of a file, or of all files of a folder, the latest first}
   *
   * @param path the file, a link to it, or the folder
   * @throws SymbolonException if the folder can't be read, or what is kept there is not this
   *     account's alone
   */
  public static List<Version> versions(Path path) {
    boolean wholeFolder = Files.isDirectory(path);
    Path file = wholeFolder ? path : followed(path);
    Path folder = wholeFolder ? path : TargetName.folder(file);
    try {
      Optional<OpenFolder> found = StateFolder.find(path.getFileSystem());
      if (found.isEmpty() || !Files.isDirectory(folder)) {
        return List.of();
      }
      try (OpenFolder state = found.get()) {
        Path real = folder.toRealPath();
        return KeptVersions.of(state, real).stream()
            .filter(entry -> wholeFolder || entry.name().equals(file.getFileName()))
            .map(
                entry ->
                    new Version(
                        folder.resolve(entry.name()),
                        KeptVersions.place(state, real, entry.step(), entry.number()),
                        entry.at(),
                        entry.absent(),
                        entry.step()))
            .toList();
      }
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "What is kept for undo of " + NotWritten.shown(folder) + " can't be read.",
          "The system says: " + NotWritten.message(e) + ".",
          "Run the command as the user who replaced the files.",
          e);
    }
  }

  private static Path followed(Path path) {
    try {
      return Files.isSymbolicLink(path) ? path.toRealPath() : path;
    } catch (IOException e) {
      return path;
    }
  }

  /**
   * {@return what commands have replaced in a folder, the latest command first: each with all the
   * files that it replaced there}
   *
   * @throws SymbolonException if the folder can't be read
   */
  public static List<Replacement> replacements(Path folder) {
    return replacements(List.of(folder));
  }

  /**
   * {@return what commands have replaced in several folders, the latest command first: each with
   * all the files that it replaced there}
   *
   * @throws SymbolonException if a folder can't be read
   */
  public static List<Replacement> replacements(Collection<Path> folders) {
    Map<Long, List<Version>> byNumber = new TreeMap<>(Comparator.reverseOrder());
    for (Path folder : folders) {
      for (Version version : versions(folder)) {
        byNumber.computeIfAbsent(version.number(), number -> new ArrayList<>()).add(version);
      }
    }
    return byNumber.values().stream()
        .map(one -> new Replacement(one.get(0).number(), one.get(0).replacedAt(), one))
        .toList();
  }

  /**
   * The files that one command replaced in a folder.
   *
   * @param number its number: a later one has a greater number
   * @param at when it did, by the clock of that moment
   * @param versions the files as they were before
   */
  public record Replacement(long number, Instant at, List<Version> versions) {
    /**
     * Copies the versions.
     *
     * @param at when it did
     * @param versions the files
     */
    public Replacement {
      versions = List.copyOf(versions);
    }

    /** {@return the moment as it is typed and shown, such as 20260503T142907.125Z} */
    public String stamp() {
      return STAMP.format(at);
    }
  }

  /**
   * Brings an earlier version back. The version that is there now is put aside in turn, so that
   * this can be undone as well.
   *
   * @throws SymbolonException if the file can't be written
   */
  public static void bringBack(Version version) {
    bringBack(new Replacement(version.number(), version.replacedAt(), List.of(version)));
  }

  /**
   * Brings all files of a command back, in one step. What is there now is put aside in turn.
   *
   * @param replacement what was replaced
   * @throws SymbolonException if a file can't be written; then nothing has changed
   */
  public static void bringBack(Replacement replacement) {
    bringBack(replacement, FolderOpening::open);
  }

  /** The same with folders opened by somebody else, which is what tests do. */
  static void bringBack(Replacement replacement, OpenFolder.Opener opener) {
    List<FileItem> items = new ArrayList<>();
    try (Step step = new Step(opener)) {
      List<StepPlan.Going> going = new ArrayList<>();
      for (Version version : replacement.versions()) {
        if (version.absent()) {
          going.add(
              new StepPlan.Going(version.target(), TargetName.last(version.kept()).toString()));
        } else {
          items.add(restored(version, step));
        }
      }
      step.takingAway(going);
      step.prepare(items, List.of());
      step.stage(Instant.now(), () -> {});
    } catch (IOException e) {
      Path target = replacement.versions().get(0).target();
      throw e instanceof NoSuchFileException
          ? NotWritten.refused(
              Reason.NOT_FOUND,
              target,
              "The earlier version is no longer there.",
              Remedy.of(
                  "See what there is.", Action.of(Task.LIST_EARLIER, TargetName.folder(target))),
              e)
          : WriteFailure.of(e, target);
    } finally {
      items.forEach(item -> Arrays.fill(item.content(), (byte) 0));
    }
  }

  private static FileItem restored(Version version, Step step) throws IOException {
    Path name = TargetName.last(version.kept());
    Path folder = TargetName.folder(version.target());
    try (OpenFolder state =
            StateFolder.find(folder.getFileSystem())
                .orElseThrow(() -> new NoSuchFileException(version.kept().toString()));
        OpenFolder target = FolderOpening.open(folder);
        OpenFolder kept =
            KeptVersions.open(state, target.path())
                .orElseThrow(() -> new NoSuchFileException(version.kept().toString()))) {
      KeptVersions.Entry entry =
          KeptVersions.of(state, target.path()).stream()
              .filter(one -> one.keptName().equals(name.toString()))
              .findFirst()
              .orElseThrow(() -> new NoSuchFileException(version.kept().toString()));
      checkFolder(version, target, entry);
      try (FileChannel channel = kept.read(name)) {
        byte[] content = Channels.newInputStream(channel).readAllBytes();
        FileItem item =
            new FileItem(version.target(), content, Privacy.SYSTEM_DEFAULT, Existing.REPLACE)
                .goingWithUndo();
        step.restoring(
            item,
            new EarlierVersion(
                kept.rights(name), kept.attributes(name).lastModifiedTime(), name.toString()));
        return item;
      }
    }
  }

  /**
   * What comes back may be a private key: it goes into the folder that it came from. Another one of
   * that name gets it only where nobody else can have put it there.
   */
  private static void checkFolder(Version version, OpenFolder target, KeptVersions.Entry entry)
      throws IOException {
    if (target.id().isSame(entry.folder(), false)) {
      return;
    }
    Optional<PathControl.Stranger> stranger = PathControl.of(target.path()).stranger();
    if (stranger.isPresent()) {
      throw NotWritten.refused(
          Reason.NOT_WRITABLE,
          version.target(),
          "Its folder is not the one that it was in, and "
              + stranger.get().sentence()
              + " Somebody else may have put the folder there.",
          "The earlier version is kept in "
              + NotWritten.shown(version.kept())
              + ". Copy it from there when the folder is the right one.");
    }
  }

  /**
   * Forgets earlier versions for good: their octets are overwritten as far as the disk does that,
   * and their names removed.
   *
   * @param path a file, or a folder for all files in it
   * @param olderThan versions that were replaced longer ago than that
   * @param atLeast how many of each file are kept, however old
   * @return how many were forgotten
   * @throws SymbolonException if they can't be removed
   */
  @SuppressWarnings("try") // holding the folder is all that is done with the lock
  public static int forget(Path path, Duration olderThan, int atLeast) {
    Instant limit = Instant.now().minus(olderThan);
    Map<Path, Integer> counts = new HashMap<>();
    List<Version> meant = new ArrayList<>();
    for (Version version : versions(path)) {
      if (counts.merge(version.target(), 1, Integer::sum) > atLeast
          && !version.replacedAt().isAfter(limit)) {
        meant.add(version);
      }
    }
    if (meant.isEmpty()) {
      return 0;
    }
    Path first = TargetName.folder(meant.get(0).target());
    try (OpenFolder folder = FolderOpening.open(first);
        FolderLock lock = FolderLock.hold(List.of(folder));
        OpenFolder state = StateFolder.open(first.getFileSystem(), FolderOpening::open)) {
      Optional<OpenFolder> found = KeptVersions.open(state, folder.path());
      if (found.isPresent()) {
        try (OpenFolder kept = found.get()) {
          for (Version version : meant) {
            overwrite(kept, TargetName.last(version.kept()));
          }
        }
        KeptVersions.remove(
            state,
            folder.path(),
            meant.stream().map(one -> TargetName.last(one.kept()).toString()).toList());
      }
      return meant.size();
    } catch (IOException e) {
      throw NotWritten.refused(
          Reason.NOT_WRITABLE,
          meant.get(0).kept(),
          "The system says: " + NotWritten.message(e) + ".",
          "Run the command as the user who replaced the files.",
          e);
    }
  }

  /** Many disks and file systems keep old octets all the same; docs/security.md says so. */
  private static void overwrite(OpenFolder kept, Path name) throws IOException {
    long size = kept.attributes(name).size();
    try (FileChannel channel = kept.createOrOpen(name)) {
      java.nio.ByteBuffer zeros = java.nio.ByteBuffer.allocate(8192);
      for (long at = 0; at < size; at += zeros.capacity()) {
        zeros.clear().limit((int) Math.min(zeros.capacity(), size - at));
        while (zeros.hasRemaining()) {
          channel.write(zeros);
        }
      }
      channel.force(true);
    }
  }
}
