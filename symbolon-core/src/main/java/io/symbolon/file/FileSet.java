// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
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
   * A file to write.
   *
   * @param target where to
   * @param content what; not copied
   * @param privacy who may read it
   * @param existing what to do about a file that is there
   * @param owner to whom it shall belong; otherwise to the owner of the file that it replaces, or
   *     to this process's account
   * @param expected what the file that it replaces was when it was read; a file that is another one
   *     by now is not replaced
   * @param undo whether the file that it replaces is kept for undo
   * @param goes whether undo takes it away again where none was there
   */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  public record Item(
      Path target,
      byte[] content,
      Privacy privacy,
      Existing existing,
      Optional<Owner> owner,
      Optional<Snapshot> expected,
      boolean undo,
      boolean goes) {
    /**
     * A file with no wish as to its owner and the file that is there.
     *
     * @param privacy who may read it
     * @param existing what to do about a file that is there
     */
    public Item(Path target, byte[] content, Privacy privacy, Existing existing) {
      this(target, content, privacy, existing, Optional.empty(), Optional.empty(), true, false);
    }

    /**
     * {@return the same for an owner}
     *
     * @param owner the owner, where one is given
     */
    public Item withOwner(Optional<Owner> owner) {
      return new Item(target, content, privacy, existing, owner, expected, undo, goes);
    }

    /**
     * {@return the same in the place of the file that was read}
     *
     * @param expected the file as it was read, where it was
     */
    public Item expecting(Optional<Snapshot> expected) {
      return new Item(target, content, privacy, existing, owner, expected, undo, goes);
    }

    /** {@return the same with nothing kept of the file that it replaces} */
    public Item withoutUndo() {
      return new Item(target, content, privacy, existing, owner, expected, false, goes);
    }

    /** {@return the same, taken away again by undo where no file was there} */
    public Item goingWithUndo() {
      return new Item(target, content, privacy, existing, owner, expected, undo, true);
    }
  }

  /**
   * A file that was written.
   *
   * @param path where it lies, links followed
   * @param aside where the file is kept that was there before
   * @param access who may read it
   */
  public record Written(Path path, Optional<Path> aside, Access access) {}

  /**
   * Writes files into folders that are there.
   *
   * @param items what is written
   * @return what was written, in the order of the items
   * @throws SymbolonException if a file can't be written; then nothing has changed
   */
  public static List<Written> write(List<Item> items) {
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
  public static List<Written> write(List<Item> items, Collection<Path> newFolders) {
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
  public static List<Written> write(
      List<Item> items, Collection<Path> newFolders, Runnable before) {
    return write(items, newFolders, before, OpenFolder::open, Instant.now());
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
  public static PendingFiles writePending(List<Item> items, Collection<Path> newFolders) {
    for (int i = 1; ; i++) {
      Step step = new Step(OpenFolder::open);
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
  static List<Written> write(
      List<Item> items,
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
  private static Path failed(List<Item> items, IOException e) {
    if (e instanceof java.nio.file.FileSystemException named && named.getFile() != null) {
      for (Item item : items) {
        if (named.getFile().endsWith(SafeFile.lastName(item.target()).toString())) {
          return item.target();
        }
      }
    }
    return items.get(items.size() - 1).target();
  }
}
