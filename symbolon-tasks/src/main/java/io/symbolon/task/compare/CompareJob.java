// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.compare;

import io.symbolon.compare.Comparison;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import java.nio.file.Path;
import java.util.List;

/**
 * Compares two files, folders or archives by what they hold.
 *
 * @param one the older side
 * @param other the newer side
 * @param unlock the sources of passwords to try on both
 */
public record CompareJob(Path one, Path other, List<PasswordSource> unlock) {
  /** Copies the list. */
  public CompareJob {
    unlock = List.copyOf(unlock);
  }

  /**
   * Compares.
   *
   * @param run what it is done in
   * @return what is the same and what is not
   * @throws io.symbolon.failure.SymbolonException if nothing of a side can be read
   */
  public CompareReport run(TaskRun run) {
    List<Secret> passwords = run.unlock(unlock);
    Comparison comparison = Comparison.of(read(run, one, passwords), read(run, other, passwords));
    return new CompareReport(List.of(one, other), comparison, run.notices());
  }

  /** One side; where nothing of it can be read, there is nothing to compare. */
  private static Survey read(TaskRun run, Path path, List<Secret> passwords) {
    Survey side = run.survey(List.of(path), passwords);
    boolean nothing = side.files().stream().allMatch(file -> file.isEmpty());
    if (nothing && !side.failures().isEmpty()) {
      throw side.failures().get(0);
    }
    return side;
  }
}
