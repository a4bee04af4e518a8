// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.undo;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Undo;
import io.symbolon.issue.Lifetime;
import io.symbolon.remedy.Input;
import io.symbolon.task.TaskRun;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Brings files back as they were before they were replaced, lists what could be brought back, or
 * removes for good what is kept.
 */
public final class UndoJob {
  /** What is done. */
  public enum Action {
    /** Files come back. */
    BRING_BACK,
    /** Nothing changes. */
    LIST,
    /** What is kept is removed. */
    FORGET
  }

  private static final String EARLIER = ".symbolon-undo"; // where older versions kept files

  private final Action action;
  private final List<Path> paths;
  private final Optional<String> at;
  private final Optional<Lifetime> olderThan;
  private final int keep;

  private UndoJob(
      Action action,
      Collection<Path> paths,
      Optional<String> at,
      Optional<Lifetime> olderThan,
      int keep) {
    this.action = action;
    this.paths = List.copyOf(paths);
    this.at = at;
    this.olderThan = olderThan;
    this.keep = keep;
  }

  /** {@return a job that brings back what the last command replaced in these files and folders} */
  public static UndoJob bringBack(Collection<Path> paths) {
    return new UndoJob(Action.BRING_BACK, paths, Optional.empty(), Optional.empty(), 0);
  }

  /** {@return a job that lists what could be brought back} */
  public static UndoJob list(Collection<Path> paths) {
    return new UndoJob(Action.LIST, paths, Optional.empty(), Optional.empty(), 0);
  }

  /** {@return a job that removes for good what is kept of these files and folders} */
  public static UndoJob forget(Collection<Path> paths) {
    return new UndoJob(Action.FORGET, paths, Optional.empty(), Optional.empty(), 0);
  }

  /** {@return the same for an earlier replacement, by its moment or the beginning of that} */
  public UndoJob at(String moment) {
    return new UndoJob(action, paths, Optional.of(moment), olderThan, keep);
  }

  /** {@return the same for what was replaced longer ago than this} */
  public UndoJob olderThan(Lifetime age) {
    return new UndoJob(action, paths, at, Optional.of(age), keep);
  }

  /** {@return the same, and so many versions of each file stay} */
  public UndoJob keeping(int versions) {
    return new UndoJob(action, paths, at, olderThan, versions);
  }

  /**
   * Does it.
   *
   * @param run what it is done in
   * @return what was done
   * @throws SymbolonException if there is nothing to bring back, or it is not clear what is meant
   */
  public UndoReport run(TaskRun run) {
    return switch (action) {
      case FORGET -> forgotten(run.around().clock().instant());
      case LIST -> report(Undo.replacements(paths), 0);
      case BRING_BACK -> broughtBack();
    };
  }

  private UndoReport report(List<Undo.Replacement> replacements, int forgotten) {
    return new UndoReport(action, paths, replacements, forgotten, earlier());
  }

  private UndoReport broughtBack() {
    List<Undo.Replacement> replacements = Undo.replacements(paths);
    List<Undo.Replacement> meant =
        at.isPresent()
            ? replacements.stream().filter(one -> one.stamp().startsWith(at.get())).toList()
            : replacements.stream().limit(1).toList();
    if (meant.size() != 1) {
      throw new SymbolonException(
          meant.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
          "There is nothing to undo for " + shown(paths) + ".",
          meant.isEmpty()
              ? at.map(moment -> "Nothing was replaced at " + shown(moment) + ".")
                  .orElse("No earlier version of it is kept by this account." + ofEarlier())
              : meant.size() + " replacements begin with " + shown(at.orElse("")) + ".",
          "See what there is with symbolon undo "
              + Input.LIST.mention("FOLDER")
              + ". Each account keeps what it has replaced itself: run the command as the account"
              + " that replaced the file.");
    }
    for (Path path : paths) {
      boolean has =
          Undo.replacements(path).stream().anyMatch(one -> one.number() == meant.get(0).number());
      if (!has) {
        throw new SymbolonException(
            Reason.AMBIGUOUS,
            "Nothing was brought back.",
            shown(path) + " has nothing of the command of " + meant.get(0).stamp() + ".",
            "Leave it out, or name the moment with " + Input.AT.mention() + ".");
      }
    }
    Undo.bringBack(meant.get(0));
    return report(meant, 0);
  }

  private UndoReport forgotten(Instant now) {
    Duration age =
        olderThan.map(lasts -> Duration.between(now, lasts.from(now))).orElse(Duration.ZERO);
    int forgotten = 0;
    for (Path path : paths) {
      forgotten += Undo.forget(path, age, keep);
    }
    return report(List.of(), forgotten);
  }

  /** A folder of that name is no proof that this account has kept anything in it. */
  private Optional<Path> earlier() {
    return paths.stream()
        .map(path -> Files.isDirectory(path) ? path : path.toAbsolutePath().getParent())
        .filter(folder -> folder != null && Files.isDirectory(folder.resolve(EARLIER)))
        .map(folder -> folder.resolve(EARLIER))
        .findFirst();
  }

  private String ofEarlier() {
    return earlier().map(folder -> " " + ofEarlier(folder)).orElse("");
  }

  /** {@return what is to be said of a folder in which an older version may have kept files} */
  public static String ofEarlier(Path folder) {
    return shown(folder)
        + " is not on record as this account's. If an older version of Symbolon made it, copy the"
        + " file from there by hand.";
  }

  private static String shown(Object text) {
    return VisibleText.of(text.toString());
  }
}
