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
import java.time.format.DateTimeParseException;
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
 * Keeps what was replaced and brings it back.
 *
 * <p>Beside the files lies a folder {@value #FOLDER}, which belongs to the account that replaced
 * them. A file put aside there is named with the moment, to the millisecond, and its own name:
 * {@code 20260503T142907.125Z_keystore.p12}. There is no index that could be damaged or forgotten:
 * the names are the index. What is kept is a copy with the owner, the mode and the time of the
 * file. Of each file the latest {@value #MOST_VERSIONS} versions are kept. A folder of that name
 * that somebody else owns or may write to is not looked into.
 */
public final class Undo {
  /** The folder beside a file that keeps its earlier versions. */
  public static final String FOLDER = ".symbolon-undo";

  /** How many versions of one file are kept; older ones go when another is added. */
  public static final int MOST_VERSIONS = 50;

  static final int STAMP_LENGTH = 20;

  private static final String END = "~";

  /** Behind the moment: for a version, and for a file that was not there. */
  private static final String SIGNS = "+=";

  /** The same in folders of before, where a name ended as the file's own. */
  private static final String EARLIER_SIGNS = "_-";

  private static final DateTimeFormatter STAMP =
      DateTimeFormatter.ofPattern("uuuuMMdd'T'HHmmss.SSS'Z'").withZone(ZoneOffset.UTC);

  private Undo() {}

  /**
   * An earlier version of a file.
   *
   * @param target the file it was
   * @param kept where it is kept
   * @param replacedAt when it was replaced
   * @param absent whether there was no such file: bringing that back takes the file away
   */
  public record Version(Path target, Path kept, Instant replacedAt, boolean absent) {}

  /**
   * {@return whether a folder of this name is one that Symbolon itself made for its work}
   *
   * @param name the name
   */
  public static boolean isOurs(String name) {
    return name.equals(FOLDER)
        || name.startsWith(FOLDER + "-")
        || name.startsWith(StageFolder.PREFIX);
  }

  /**
   * A moment at which nothing that is kept in these folders was replaced, as their names say it.
   */
  static String freeStamp(Collection<OpenFolder> folders, Instant when) throws IOException {
    List<String> taken = new ArrayList<>();
    for (OpenFolder folder : folders) {
      Optional<OpenFolder> undo = UndoFolder.open(folder);
      if (undo.isPresent()) {
        try (OpenFolder kept = undo.get()) {
          kept.names().forEach(name -> taken.add(name.toString()));
        }
      }
    }
    Instant moment = when;
    while (true) {
      String stamp = STAMP.format(moment);
      if (taken.stream().noneMatch(name -> name.startsWith(stamp))) {
        return stamp;
      }
      moment = moment.plusMillis(1);
    }
  }

  /**
   * The name that a version is kept under. It does not end as the file's own: some programs take in
   * every file below a folder whose name ends so, and would go on with what was taken away.
   */
  static String keptName(String stamp, Path name) {
    return stamp + "+" + name + END;
  }

  /** The name that says that there was no such file. */
  static String absentName(String stamp, Path name) {
    return stamp + "=" + name + END;
  }

  /** Removes the oldest versions of each file, where there are too many. */
  static void prune(OpenFolder folder) throws IOException {
    Optional<OpenFolder> undo = UndoFolder.open(folder);
    if (undo.isEmpty()) {
      return;
    }
    try (OpenFolder kept = undo.get()) {
      Map<Path, Integer> counts = new HashMap<>();
      for (Version version : sorted(folder, kept)) {
        if (counts.merge(version.target(), 1, Integer::sum) > MOST_VERSIONS) {
          kept.delete(SafeFile.lastName(version.kept()));
        }
      }
    }
  }

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
    Path folder = wholeFolder ? path : SafeFile.folderOf(file);
    if (!Files.isDirectory(folder)) {
      return List.of();
    }
    try (OpenFolder open = OpenFolder.open(folder)) {
      Optional<OpenFolder> undo = UndoFolder.open(open);
      if (undo.isEmpty()) {
        Optional<String> foreign = UndoFolder.foreign(open);
        if (foreign.isPresent()) {
          throw notTrusted(folder, foreign.get());
        }
        return List.of();
      }
      try (OpenFolder kept = undo.get()) {
        List<Version> versions = new ArrayList<>();
        for (Version version : sorted(open, kept)) {
          Path name = SafeFile.lastName(version.target());
          if (wholeFolder || name.equals(file.getFileName())) {
            versions.add(
                new Version(
                    folder.resolve(name), version.kept(), version.replacedAt(), version.absent()));
          }
        }
        return versions;
      }
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The folder " + SafeFile.shown(folder.resolve(FOLDER)) + " can't be read.",
          "The system says: " + SafeFile.message(e) + ".",
          "Run the command as the user who replaced the files.",
          e);
    }
  }

  private static SymbolonException notTrusted(Path folder, String owner) {
    return new SymbolonException(
        Reason.UNREADABLE,
        "Nothing in " + SafeFile.shown(folder) + " can be brought back.",
        SafeFile.shown(folder.resolve(FOLDER))
            + " belongs to "
            + owner
            + " or can be changed by others, who could have put anything into it.",
        "Run the command as " + owner + " if that account replaced the files.");
  }

  private static Path followed(Path path) {
    try {
      return Files.isSymbolicLink(path) ? path.toRealPath() : path;
    } catch (IOException e) {
      return path;
    }
  }

  private static List<Version> sorted(OpenFolder folder, OpenFolder kept) throws IOException {
    List<Version> versions = new ArrayList<>();
    for (Path name : kept.names()) {
      if (kept.attributes(name).isRegularFile()) {
        version(folder.path(), kept.path().resolve(name)).ifPresent(versions::add);
      }
    }
    versions.sort(Comparator.comparing(Version::replacedAt).reversed());
    return versions;
  }

  private static Optional<Version> version(Path folder, Path kept) {
    String name = String.valueOf(kept.getFileName());
    if (name.length() <= STAMP_LENGTH + 1) {
      return Optional.empty();
    }
    char sign = name.charAt(STAMP_LENGTH);
    boolean earlier = EARLIER_SIGNS.indexOf(sign) >= 0;
    if (!earlier && (SIGNS.indexOf(sign) < 0 || !name.endsWith(END))) {
      return Optional.empty();
    }
    String target = name.substring(STAMP_LENGTH + 1, name.length() - (earlier ? 0 : END.length()));
    try {
      Instant at = STAMP.parse(name.substring(0, STAMP_LENGTH), Instant::from);
      return Optional.of(new Version(folder.resolve(target), kept, at, sign == '-' || sign == '='));
    } catch (DateTimeParseException e) {
      return Optional.empty();
    }
  }

  /**
   * {@return what commands have replaced in a folder, the latest command first: each with all the
   * files that it replaced there}
   *
   * @param folder the folder
   * @throws SymbolonException if the folder can't be read
   */
  public static List<Replacement> replacements(Path folder) {
    return replacements(List.of(folder));
  }

  /**
   * {@return what commands have replaced in several folders, the latest command first: each with
   * all the files that it replaced there}
   *
   * @param folders the folders
   * @throws SymbolonException if a folder can't be read
   */
  public static List<Replacement> replacements(Collection<Path> folders) {
    Map<Instant, List<Version>> byMoment = new TreeMap<>(Comparator.reverseOrder());
    for (Path folder : folders) {
      for (Version version : versions(folder)) {
        byMoment.computeIfAbsent(version.replacedAt(), at -> new ArrayList<>()).add(version);
      }
    }
    return byMoment.entrySet().stream()
        .map(one -> new Replacement(one.getKey(), one.getValue()))
        .toList();
  }

  /**
   * The files that one command replaced in a folder.
   *
   * @param at when it did
   * @param versions the files as they were before
   */
  public record Replacement(Instant at, List<Version> versions) {
    /**
     * Copies the versions.
     *
     * @param at the moment
     * @param versions the protocol versions
     */
    public Replacement {
      versions = List.copyOf(versions);
    }

    /** {@return the moment as it is written in the names of the files that are kept} */
    public String stamp() {
      return STAMP.format(at);
    }
  }

  /**
   * Brings an earlier version back. The version that is there now is put aside in turn, so that
   * this can be undone as well.
   *
   * @param version the version
   * @throws SymbolonException if the file can't be written
   */
  public static void bringBack(Version version) {
    bringBack(new Replacement(version.replacedAt(), List.of(version)));
  }

  /**
   * Brings all files of a command back, in one step. What is there now is put aside in turn.
   *
   * @param replacement what was replaced
   * @throws SymbolonException if a file can't be written; then nothing has changed
   */
  public static void bringBack(Replacement replacement) {
    bringBack(replacement, OpenFolder::open);
  }

  /** The same with folders opened by somebody else, which is what tests do. */
  static void bringBack(Replacement replacement, OpenFolder.Opener opener) {
    List<FileSet.Item> items = new ArrayList<>();
    try (Step step = new Step(opener)) {
      List<StepPlan.Going> going = new ArrayList<>();
      for (Version version : replacement.versions()) {
        if (version.absent()) {
          going.add(
              new StepPlan.Going(version.target(), SafeFile.lastName(version.kept()).toString()));
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
          ? SafeFile.refused(
              Reason.NOT_FOUND,
              target,
              "The earlier version is no longer there.",
              Remedy.of(
                  "See what there is.", Action.of(Task.LIST_EARLIER, SafeFile.folderOf(target))),
              e)
          : WriteFailure.of(e, target);
    } finally {
      items.forEach(item -> Arrays.fill(item.content(), (byte) 0));
    }
  }

  private static FileSet.Item restored(Version version, Step step) throws IOException {
    Path name = SafeFile.lastName(version.kept());
    try (OpenFolder folder = OpenFolder.open(SafeFile.folderOf(version.target()))) {
      Optional<OpenFolder> undo = UndoFolder.open(folder);
      if (undo.isEmpty()) {
        throw new NoSuchFileException(version.kept().toString());
      }
      try (OpenFolder kept = undo.get();
          FileChannel channel = kept.read(name)) {
        byte[] content = Channels.newInputStream(channel).readAllBytes();
        FileSet.Item item =
            new FileSet.Item(version.target(), content, Privacy.SYSTEM_DEFAULT, Existing.REPLACE)
                .goingWithUndo();
        step.restoring(
            item,
            new Step.Kept(
                kept.rights(name), kept.attributes(name).lastModifiedTime(), name.toString()));
        return item;
      }
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
    try (OpenFolder folder = OpenFolder.open(SafeFile.folderOf(meant.get(0).target()));
        FolderLock lock = FolderLock.hold(List.of(folder))) {
      Optional<OpenFolder> undo = UndoFolder.open(folder);
      if (undo.isPresent()) {
        try (OpenFolder kept = undo.get()) {
          for (Version version : meant) {
            Path name = SafeFile.lastName(version.kept());
            overwrite(kept, name);
            kept.delete(name);
          }
          kept.flush();
        }
      }
      UndoFolder.removeIfEmpty(folder);
      return meant.size();
    } catch (IOException e) {
      throw SafeFile.refused(
          Reason.NOT_WRITABLE,
          meant.get(0).kept(),
          "The system says: " + SafeFile.message(e) + ".",
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
