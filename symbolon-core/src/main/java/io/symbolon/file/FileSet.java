// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Writes several files that belong together: all of them or none, also when the process is killed
 * in between. The next command that works in one of the folders finishes such a step, or takes it
 * back.
 */
public final class FileSet {
  private static final Logger LOG = LoggerFactory.getLogger(FileSet.class);

  private static final int TRIES = 3; // for folders that others make at the same time

  private FileSet() {}

  /**
   * Writes files into folders that are there.
   *
   * @param items what is written
   * @return what was written, in the order of the items
   * @throws SymbolonException if a file can't be written; then nothing has changed
   */
  public static List<WrittenItem> write(List<FileItem> items) {
    return write(items, List.of());
  }

  /**
   * Writes files, and makes folders with the files in them.
   *
   * @param items what is written
   * @param newFolders folders that are made if they are not there; one without a file of the items
   *     is not made
   * @return what was written, in the order of the items
   * @throws SymbolonException if a file can't be written; then nothing has changed
   */
  public static List<WrittenItem> write(List<FileItem> items, Collection<Path> newFolders) {
    return write(items, newFolders, () -> {});
  }

  /**
   * {@return the same with something that is done when all files are written and flushed, and none
   * has its name yet} Where it throws, nothing has changed.
   *
   * @param items what is written
   * @param newFolders folders that are made if they are not there
   * @param before what is done before the files get their names
   */
  public static List<WrittenItem> write(
      List<FileItem> items, Collection<Path> newFolders, Runnable before) {
    return write(items, newFolders, before, FolderOpening::open, Instant.now());
  }

  /**
   * Writes files, and lets go of their folders only when the caller has found out whether they may
   * stay: no other command of Symbolon changes them until then. Where the process is killed in
   * between, the new files stay, whole.
   *
   * @param items what is written; one at least
   * @param newFolders folders that are made if they are not there
   * @return what was written, to be kept or taken back
   * @throws SymbolonException if a file can't be written; then nothing has changed
   */
  public static PendingFiles writePending(List<FileItem> items, Collection<Path> newFolders) {
    for (int i = 1; ; i++) {
      Step step = new Step(FolderOpening::open);
      try {
        step.prepare(items, newFolders);
        step.stage(Instant.now(), () -> {});
        return new PendingFiles(step, step.written());
      } catch (IOException e) {
        release(step);
        if (!(e instanceof StepPlan.FolderAppeared) || i == TRIES) {
          throw WriteFailure.of(e, failed(items, e));
        }
      } catch (RuntimeException e) {
        release(step);
        throw e;
      }
    }
  }

  private static void release(Step step) {
    try {
      step.close();
    } catch (IOException e) {
      LOG.debug("the folders of a step could not be let go of", e);
    }
  }

  /** The same with folders opened by somebody else, which is what tests do. */
  static List<WrittenItem> write(
      List<FileItem> items,
      Collection<Path> newFolders,
      Runnable before,
      OpenFolder.Opener opener,
      Instant when) {
    if (items.isEmpty()) {
      return List.of();
    }
    for (int i = 1; ; i++) {
      try (Step step = new Step(opener)) {
        step.prepare(items, newFolders);
        step.stage(when, before);
        return step.written();
      } catch (StepPlan.FolderAppeared e) {
        if (i == TRIES) {
          throw WriteFailure.of(e, failed(items, e));
        }
      } catch (IOException e) {
        throw WriteFailure.of(e, failed(items, e));
      }
    }
  }

  /** The target that a failure of the system speaks of; the last one where it does not tell. */
  private static Path failed(List<FileItem> items, IOException e) {
    if (e instanceof java.nio.file.FileSystemException named && named.getFile() != null) {
      for (FileItem item : items) {
        if (named.getFile().endsWith(TargetName.last(item.target()).toString())) {
          return item.target();
        }
      }
    }
    return items.get(items.size() - 1).target();
  }
}
