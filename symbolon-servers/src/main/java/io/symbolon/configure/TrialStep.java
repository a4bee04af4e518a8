// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.finding.Finding;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.place.Mode;
import java.util.List;

/**
 * One step of a trial: what was wanted, what would change, and what is wrong with it.
 *
 * @param mode the mode that was wanted
 * @param what what the step tries, as a sentence
 * @param changes the files that would be made or replaced
 * @param problems why it would not do what is wanted; none where it would
 */
public record TrialStep(Mode mode, String what, List<FileChange> changes, List<Finding> problems) {
  /** Copies the lists. */
  public TrialStep {
    changes = List.copyOf(changes);
    problems = List.copyOf(problems);
  }

  /** {@return whether it would do what is wanted} */
  public boolean isGood() {
    return problems.isEmpty();
  }
}
