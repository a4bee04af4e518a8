// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.Hex;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/**
 * The folder in which this account keeps what it must be able to believe later: which steps it has
 * begun, which folders it has made for them, what it has replaced, and its locks. Nobody else can
 * write there, and nobody else controls the way to it; what is not on record in it is not touched.
 *
 * <p>It is {@code /var/lib/symbolon} for root, {@code ~/.local/state/symbolon} for others ({@code
 * AppData\Local\Symbolon} on Windows), where the home is the one that the system knows, whatever
 * the environment says. An account without a home that it may write to has a folder of its own in
 * the system's folder for temporary files that are kept. {@value #VARIABLE} (or the property
 * {@value #PROPERTY}) names another one.
 */
public final class StateFolder {
  /** The variable that names another folder. */
  public static final String VARIABLE = "SYMBOLON_STATE";

  /** The property of the process that names another folder; it counts before the variable. */
  public static final String PROPERTY = "symbolon.state";

  private static final String WORK = "work";
  private static final String SHARED_PREFIX = "symbolon-state-";
  private static final Map<String, Path> FOUND = new ConcurrentHashMap<>();

  private StateFolder() {}

  /** Opens it; it is made where it is not there. */
  static OpenFolder open(FileSystem system, OpenFolder.Opener opener) throws IOException {
    Optional<String> named = named();
    String key = key(system, named);
    Path known = FOUND.get(key);
    if (known != null && isUsable(known)) {
      return opener.open(known);
    }
    Path path = locate(system, named, true).orElseThrow(() -> none(named));
    FOUND.put(key, path);
    return opener.open(path);
  }

  private static String key(FileSystem system, Optional<String> named) {
    return system == FileSystems.getDefault() ? named.orElse("") : "\0" + system;
  }

  /** The one that was opened last; nothing where none was opened yet. */
  static Optional<Path> opened(FileSystem system) {
    return Optional.ofNullable(FOUND.get(key(system, named())));
  }

  /**
   * Makes a new folder for a moment's work, which nobody else can enter or exchange. What a killed
   * command has left lies beside it.
   *
   * @param prefix how its name begins; random letters follow
   * @return the folder
   * @throws IOException if it can't be made
   */
  public static Path newWorkFolder(String prefix) throws IOException {
    try (OpenFolder state = open(FileSystems.getDefault(), FolderOpening::open);
        OpenFolder work = openIn(state, WORK)) {
      return Files.createTempDirectory(work.path(), prefix); // for its owner alone
    }
  }

  /** Opens it for reading; nothing where there is none yet. */
  static Optional<OpenFolder> find(FileSystem system) throws IOException {
    Optional<Path> path = locate(system, named(), false);
    return path.isPresent() ? Optional.of(FolderOpening.open(path.get())) : Optional.empty();
  }

  /** Opens a folder in it; it is made where it is not there. */
  static OpenFolder openIn(OpenFolder state, String name) throws IOException {
    try {
      return state.enter(state.name(name));
    } catch (NoSuchFileException e) {
      try {
        return state.make(state.name(name));
      } catch (FileAlreadyExistsException other) {
        return state.enter(state.name(name));
      }
    }
  }

  private static Optional<String> named() {
    return Optional.ofNullable(System.getProperty(PROPERTY))
        .or(() -> Optional.ofNullable(System.getenv(VARIABLE)))
        .filter(one -> !one.isBlank());
  }

  private static Optional<Path> locate(FileSystem system, Optional<String> named, boolean making)
      throws IOException {
    if (system != FileSystems.getDefault()) {
      Path root = system.getRootDirectories().iterator().next();
      return made(root.resolve(".symbolon-state"), making); // a file system of a program's own
    }
    if (named.isPresent()) {
      Path path = Path.of(named.get());
      if (!path.isAbsolute()) {
        throw refused(path, "It is not an absolute path.");
      }
      Optional<Path> found = made(path, making);
      if (found.isEmpty() && Files.exists(path, LinkOption.NOFOLLOW_LINKS)) {
        found = made(path, making); // it may have come between the two looks
        if (found.isEmpty()) {
          throw refused(path, why(path));
        }
      }
      return found;
    }
    for (Path one : usual()) {
      Optional<Path> found = made(one, making);
      if (found.isPresent()) {
        return found;
      }
    }
    return shared(making);
  }

  private static List<Path> usual() {
    List<Path> folders = new ArrayList<>();
    boolean windows = FileSystems.getDefault().getSeparator().equals("\\");
    if (!windows && SystemAccounts.isRoot(SystemAccounts.us())) {
      folders.add(Path.of("/var/lib/symbolon"));
    }
    Path home = Path.of(System.getProperty("user.home", "")).toAbsolutePath();
    if (Files.isDirectory(home)) {
      folders.add(home.resolve(windows ? "AppData/Local/Symbolon" : ".local/state/symbolon"));
    }
    return folders;
  }

  /** The folder itself, where it is there by now and this account's alone. */
  private static Optional<Path> made(Path path, boolean making) {
    try {
      if (making && !Files.isDirectory(path)) {
        Path parent = path.getParent();
        if (parent != null && !Files.isDirectory(parent)) {
          Files.createDirectories(parent, Rights.ownerOnly(parent, true));
        }
        make(path);
      }
    } catch (FileAlreadyExistsException e) {
      // another process was first, or something else has the name: looked at below
    } catch (IOException | UnsupportedOperationException e) {
      return Optional.empty();
    }
    return isUsable(path) ? Optional.of(path) : Optional.empty();
  }

  private static void make(Path path) throws IOException {
    try {
      Files.createDirectory(path, Rights.ownerOnly(path, true));
    } catch (UnsupportedOperationException e) {
      // Not every file system takes an access list at creation.
      Files.createDirectory(path);
      Rights.giveOwnerOnly(path, true);
    }
  }

  private static boolean isUsable(Path path) {
    try {
      return Files.isDirectory(path)
          && Files.isWritable(path)
          && PathControl.of(path).stranger().isEmpty()
          && (!(Rights.of(path.toRealPath()) instanceof Rights.Posix rights)
              || SystemAccounts.isUs(rights.owner()));
    } catch (IOException e) {
      return false;
    }
  }

  private static String why(Path path) {
    try {
      return PathControl.of(path)
          .stranger()
          .map(PathControl.Stranger::sentence)
          .orElse("It is not a folder that this account owns and may write to.");
    } catch (IOException e) {
      return "The system says: " + NotWritten.message(e) + ".";
    }
  }

  /**
   * In the folder for temporary files, whose names belong to the owners of their files: another
   * account can take a name there, but can't put a folder of ours in its place.
   */
  private static Optional<Path> shared(boolean making) throws IOException {
    Path top = Path.of("/var/tmp");
    if (!Files.isDirectory(top)) {
      top = Path.of(System.getProperty("java.io.tmpdir", ""));
    }
    List<Path> found = new ArrayList<>();
    try (DirectoryStream<Path> stream = Files.newDirectoryStream(top, SHARED_PREFIX + "*")) {
      for (Path one : stream) {
        if (!Files.isSymbolicLink(one) && isUsable(one)) {
          found.add(one);
        }
      }
    } catch (java.nio.file.DirectoryIteratorException e) {
      throw e.getCause();
    }
    found.sort(null);
    if (!found.isEmpty()) {
      return Optional.of(found.get(0));
    }
    byte[] random = new byte[8];
    new SecureRandom().nextBytes(random);
    return making ? made(top.resolve(SHARED_PREFIX + Hex.of(random)), true) : Optional.empty();
  }

  private static SymbolonException none(Optional<String> named) {
    return named
        .map(one -> refused(Path.of(one), "It can't be made."))
        .orElseGet(
            () ->
                new SymbolonException(
                    Reason.NOT_WRITABLE,
                    "Nothing was written.",
                    "This account has no folder for Symbolon's records that nobody else can change.",
                    "Make one that belongs to this account alone, and name it in the variable "
                        + VARIABLE
                        + "."));
  }

  private static SymbolonException refused(Path path, String why) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "The folder "
            + NotWritten.shown(path)
            + ", which "
            + VARIABLE
            + " names, can't be used for Symbolon's records. Nothing was written.",
        why,
        "Name a folder that belongs to this account and that nobody else can change, or leave "
            + VARIABLE
            + " out.");
  }
}
