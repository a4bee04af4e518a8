// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Leftovers;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.FileVisitOption;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * Lists the files below a folder in the order of their names. A link to a folder is not followed; a
 * link to a file counts only where the file itself is not below the folder. Folders that a running
 * command works in are left out.
 */
final class FolderWalk {
  private final List<Path> files = new ArrayList<>();
  private final List<Path> links = new ArrayList<>();
  private final Set<Path> linked = new HashSet<>();
  private final List<Path> special = new ArrayList<>();
  private final List<Path> foreign = new ArrayList<>();
  private final List<SymbolonException> failures = new ArrayList<>();

  /**
   * What a walk found.
   *
   * @param files the files, sorted
   * @param links which of them are links
   * @param special devices, pipes and sockets, which are passed over
   * @param foreign folders with a name of Symbolon's own kind that are not on record; not read
   * @param failures the folders that could not be listed
   */
  record FoundFiles(
      List<Path> files,
      Set<Path> links,
      List<Path> special,
      List<Path> foreign,
      List<SymbolonException> failures) {}

  static FoundFiles of(Path folder) {
    return new FolderWalk().walk(folder);
  }

  private FoundFiles walk(Path folder) {
    try {
      Files.walkFileTree(
          folder, EnumSet.noneOf(FileVisitOption.class), Limits.FOLDER_DEPTH, new Visitor(folder));
    } catch (IOException e) {
      failures.add(FileReader.unreadable(folder, e));
    }
    if (!links.isEmpty()) {
      addLinks();
    }
    files.sort(null);
    special.sort(null);
    return new FoundFiles(files, linked, special, foreign, failures);
  }

  private void addLinks() {
    Set<Path> real = new HashSet<>();
    for (Path file : files) {
      real.add(realPath(file));
    }
    links.sort(null);
    for (Path link : links) {
      if (Files.isRegularFile(link) && real.add(realPath(link))) {
        files.add(link);
        linked.add(link);
      }
    }
  }

  private static Path realPath(Path path) {
    try {
      return path.toRealPath();
    } catch (IOException e) {
      return path;
    }
  }

  private final class Visitor extends SimpleFileVisitor<Path> {
    private final Path top;

    Visitor(Path top) {
      this.top = top;
    }

    @Override
    public FileVisitResult preVisitDirectory(Path folder, BasicFileAttributes attributes) {
      Path name = folder.getFileName();
      if (name == null || folder.equals(top) || !Leftovers.isNamedSo(name.toString())) {
        return FileVisitResult.CONTINUE;
      }
      if (!Leftovers.isOnRecord(folder)) {
        foreign.add(folder);
      }
      return FileVisitResult.SKIP_SUBTREE;
    }

    @Override
    public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
      if (files.size() + links.size() >= Limits.FILES) {
        failures.add(
            new SymbolonException(
                Reason.LIMIT_PASSED,
                "The folder " + VisibleText.of(top.toString()) + " was not read to its end.",
                "It holds more than " + Limits.FILES + " files.",
                "Name the folders inside it one by one."));
        return FileVisitResult.TERMINATE;
      }
      if (attributes.isRegularFile()) {
        files.add(file);
      } else if (attributes.isSymbolicLink()) {
        links.add(file);
      } else if (attributes.isOther()) {
        special.add(file);
      }
      return FileVisitResult.CONTINUE;
    }

    @Override
    public FileVisitResult visitFileFailed(Path file, IOException e) {
      failures.add(FileReader.unreadable(file, e));
      return FileVisitResult.CONTINUE;
    }
  }
}
