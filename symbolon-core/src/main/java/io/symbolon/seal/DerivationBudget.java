// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.limit.WorkBudget;

/**
 * How much derivation one file may still ask for, within what the whole command may. Each
 * protection in a file is bounded by {@link Limits#ITERATIONS}; this bounds their sum, since a file
 * can hold thousands, and a command reads many files. Thread-safe.
 */
public final class DerivationBudget {
  private final WorkBudget command;
  private long asked;

  /**
   * A budget of {@link Limits#ITERATIONS_PER_FILE}.
   *
   * @param command what the command may do for all its files
   */
  public DerivationBudget(WorkBudget command) {
    this.command = command;
  }

  /** A budget of its own. */
  public DerivationBudget() {
    this(WorkBudget.full());
  }

  /**
   * Takes one more derivation.
   *
   * @param blocks its rounds, times the blocks that each computes
   * @throws SymbolonException if the file, or all that the command reads, asks for more than is
   *     carried out
   */
  public synchronized void take(long blocks) {
    asked += blocks;
    if (asked > Limits.ITERATIONS_PER_FILE) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "What is protected by a password can't be opened.",
          "It asks for more than "
              + asked
              + " rounds of password derivation in all; up to "
              + Limits.ITERATIONS_PER_FILE
              + " are carried out for one file.",
          "Ask its sender for the keys in several files, or sealed with fewer rounds.");
    }
    command.takeDerivation(blocks);
  }
}
