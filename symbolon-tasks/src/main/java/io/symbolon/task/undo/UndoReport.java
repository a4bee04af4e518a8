// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.undo;

import io.symbolon.file.Undo;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What was brought back, could be, or was forgotten.
 *
 * @param action what was done
 * @param paths the files or folders that were meant
 * @param replacements what was brought back, or what could be; the latest first
 * @param forgotten how many versions were removed for good
 * @param earlier a folder in which an older version of Symbolon may have kept files
 */
public record UndoReport(
    UndoJob.Action action,
    List<Path> paths,
    List<Undo.Replacement> replacements,
    int forgotten,
    Optional<Path> earlier) {
  /** {@return the versions of files that are spoken of} */
  public List<Undo.Version> versions() {
    return replacements.stream().flatMap(one -> one.versions().stream()).toList();
  }
}
