// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.text.VisibleText;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * The machine that servers are looked for on: its files, and its programs.
 *
 * @param root the folder that stands for the whole machine: {@code /}, another one in an image of a
 *     machine
 * @param files how files are read
 * @param programs what runs programs
 */
public record Machine(Path root, FileView files, Programs programs) {
  /** {@return this machine} */
  public static Machine here() {
    Path here = FileSystems.getDefault().getPath("").toAbsolutePath().getRoot();
    String drive = System.getenv("SystemDrive");
    boolean windows = here.getFileSystem().getSeparator().equals("\\");
    return at(windows && drive != null ? Path.of(drive + "\\") : here);
  }

  /**
   * {@return the image of a machine in a folder}
   *
   * @param root the folder
   */
  public static Machine at(Path root) {
    return new Machine(root, FileView.disk(), new SystemPrograms());
  }

  /** {@return the same with files as they would be after changes} */
  public Machine with(List<FileChange> changes) {
    return new Machine(root, files.with(changes), programs);
  }

  /**
   * {@return a path of the machine}
   *
   * @param absolute the path as the machine itself has it, such as {@code /etc/nginx}
   */
  public Path path(String absolute) {
    if (isWindows() && (absolute.startsWith("//") || absolute.startsWith("\\\\"))) {
      return root.getFileSystem().getPath(absolute.replace('/', '\\'));
    }
    boolean below = absolute.startsWith("/") || (isWindows() && absolute.startsWith("\\"));
    return root.resolve(below ? absolute.substring(1) : absolute);
  }

  /** {@return whether it is a Windows, with its drives, its separators and its rights} */
  public boolean isWindows() {
    return root.getFileSystem().getSeparator().equals("\\");
  }

  /**
   * {@return a path as settings have it: by itself where it is absolute, else below a folder}
   *
   * @param text the path; on a Windows with either separator
   * @throws SymbolonException if there can't be such a path here
   */
  public Path below(Path folder, String text) {
    boolean absolute =
        text.startsWith("/")
            || (isWindows() && (text.startsWith("\\") || text.matches("[A-Za-z]:[/\\\\](?s:.*)")));
    try {
      return absolute ? path(text) : folder.resolve(text);
    } catch (InvalidPathException e) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          "The settings can't be read. Nothing was changed.",
          "They name the file " + VisibleText.of(text) + ", which can't be on this system.",
          "Correct that name.",
          e);
    }
  }

  /**
   * {@return a path with slashes, as settings take it on every system that know a backslash for
   * something else}
   */
  public static String withSlashes(Path path) {
    return path.getFileSystem().getSeparator().equals("\\")
        ? path.toString().replace('\\', '/')
        : path.toString();
  }

  /**
   * {@return the account of a server, where files can be judged by it: on a Windows that is not so}
   */
  public Optional<String> account(String account) {
    return isWindows() ? Optional.empty() : Optional.of(account);
  }

  /**
   * {@return the account that a file belongs to, and that controls the way to it; nothing where
   * that is not one account, or files can't be judged by it}
   */
  public Optional<String> accountOf(Path file) {
    return isWindows() ? Optional.empty() : OwningAccount.of(file);
  }

  /** {@return the owner of a server's files; on a Windows they belong to whoever makes them} */
  public Optional<Owner> owner(Owner owner) {
    return isWindows() ? Optional.empty() : Optional.of(owner);
  }

  /**
   * {@return what is in the place of a pattern, in the order of the names}
   *
   * @param pattern an absolute path; its names may be patterns
   */
  public List<Path> matching(String pattern) {
    return Include.matching(this, root, pattern);
  }

  /**
   * {@return the first of these that is there}
   *
   * @param absolute paths as the machine itself has them
   */
  public Optional<Path> first(String... absolute) {
    for (String one : absolute) {
      Path path = path(one);
      if (Files.exists(path)) {
        return Optional.of(path);
      }
    }
    return Optional.empty();
  }
}
