package io.symbolon.file;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * Keeps what was replaced and brings it back.
 *
 * <p>Beside the files lies a folder {@value #FOLDER}, its owner's alone. A file put aside there is
 * named with the moment, to the millisecond, and its own name: {@code
 * 20260503T142907.125Z_keystore.p12}. There is no index that could be damaged or forgotten: the
 * names are the index. Putting aside copies nothing: the file gets a second name by a hard link, or
 * a copy where the file system has none.
 */
public final class Undo {
  /** The folder beside a file that keeps its earlier versions. */
  public static final String FOLDER = ".symbolon-undo";

  private static final DateTimeFormatter STAMP =
      DateTimeFormatter.ofPattern("uuuuMMdd'T'HHmmss.SSS'Z'").withZone(ZoneOffset.UTC);
  private static final int STAMP_LENGTH = 20;

  private Undo() {}

  /**
   * An earlier version of a file.
   *
   * @param target the file it was
   * @param kept where it is kept
   * @param replacedAt when it was replaced
   */
  public record Version(Path target, Path kept, Instant replacedAt) {}

  /**
   * Gives a file a second name under which it is kept.
   *
   * @param when the moment of the command that replaces it: the same for all its files
   */
  static Path putAside(Path target, Instant when) throws IOException {
    Path folder = SafeFile.folderOf(target).resolve(FOLDER);
    if (!Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)) {
      if (SafeFile.isPosix(target)) {
        Files.createDirectory(
            folder,
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
      } else {
        Files.createDirectory(folder);
      }
    }
    Instant now = when;
    Path kept = folder.resolve(STAMP.format(now) + "_" + target.getFileName());
    while (Files.exists(kept, LinkOption.NOFOLLOW_LINKS)) {
      now = now.plusMillis(1);
      kept = folder.resolve(STAMP.format(now) + "_" + target.getFileName());
    }
    try {
      Files.createLink(kept, target);
    } catch (UnsupportedOperationException | java.nio.file.FileSystemException e) {
      Files.copy(target, kept, StandardCopyOption.COPY_ATTRIBUTES);
    }
    SafeFile.flushFolder(folder);
    return kept;
  }

  /**
   * The earlier versions of a file, or of all files of a folder, the latest first.
   *
   * @throws SymbolonException if the folder can't be read
   */
  public static List<Version> versions(Path path) {
    boolean wholeFolder = Files.isDirectory(path);
    Path folder = wholeFolder ? path : SafeFile.folderOf(path);
    Path kept = folder.resolve(FOLDER);
    if (!Files.isDirectory(kept)) {
      return List.of();
    }
    List<Version> versions = new ArrayList<>();
    try (Stream<Path> files = Files.list(kept)) {
      files.forEach(file -> version(folder, file).ifPresent(versions::add));
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The folder " + SafeFile.shown(kept) + " can't be read.",
          "The system says: " + SafeFile.message(e) + ".",
          "Run the command as the user who replaced the files.",
          e);
    }
    String name = String.valueOf(path.getFileName());
    versions.removeIf(v -> !wholeFolder && !String.valueOf(v.target().getFileName()).equals(name));
    versions.sort(Comparator.comparing(Version::replacedAt).reversed());
    return versions;
  }

  private static Optional<Version> version(Path folder, Path kept) {
    String name = String.valueOf(kept.getFileName());
    if (name.length() <= STAMP_LENGTH + 1 || name.charAt(STAMP_LENGTH) != '_') {
      return Optional.empty();
    }
    try {
      Instant at = STAMP.parse(name.substring(0, STAMP_LENGTH), Instant::from);
      return Optional.of(new Version(folder.resolve(name.substring(STAMP_LENGTH + 1)), kept, at));
    } catch (DateTimeParseException e) {
      return Optional.empty();
    }
  }

  /**
   * Brings an earlier version back. The version that is there now is put aside in turn, so that
   * this can be undone as well.
   *
   * @throws SymbolonException if the file can't be written
   */
  public static void bringBack(Version version) {
    bringBack(version, now());
  }

  /** The time stamp of what is put aside now: the system's clock is right for that. */
  static Instant now() {
    return Instant.now();
  }

  /**
   * What commands have replaced in a folder, the latest command first: each with all the files that
   * it replaced there.
   *
   * @throws SymbolonException if the folder can't be read
   */
  public static List<Replacement> replacements(Path folder) {
    Map<Instant, List<Version>> byMoment = new TreeMap<>(Comparator.reverseOrder());
    for (Version version : versions(folder)) {
      byMoment.computeIfAbsent(version.replacedAt(), at -> new ArrayList<>()).add(version);
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
    /** Copies the versions. */
    public Replacement {
      versions = List.copyOf(versions);
    }

    /** The moment as it is written in the names of the files that are kept. */
    public String stamp() {
      return STAMP.format(at);
    }
  }

  /**
   * Brings all files of a command back. What is there now is put aside in turn.
   *
   * @throws SymbolonException if a file can't be written; those before it are back then
   */
  public static void bringBack(Replacement replacement) {
    Instant when = now();
    replacement.versions().forEach(version -> bringBack(version, when));
  }

  private static void bringBack(Version version, Instant when) {
    Path target = version.target();
    SafeFile.check(target, Existing.REPLACE);
    try {
      if (Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
        putAside(target, when);
      }
      Files.move(
          version.kept(),
          target,
          StandardCopyOption.ATOMIC_MOVE,
          StandardCopyOption.REPLACE_EXISTING);
      SafeFile.flushFolder(SafeFile.folderOf(target));
    } catch (IOException e) {
      throw SafeFile.refused(
          Reason.NOT_WRITABLE,
          target,
          "The system says: " + SafeFile.message(e) + ".",
          "The earlier version is still at " + SafeFile.shown(version.kept()) + ".");
    }
  }
}
