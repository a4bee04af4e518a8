package io.symbolon.seal;

import io.symbolon.Limits;
import io.symbolon.Reason;
import io.symbolon.SymbolonException;

/**
 * How many derivation rounds one file may still ask for. Each protection in a file is bounded by
 * {@link Limits#ITERATIONS}; this bounds their sum, since a file can hold thousands. Thread-safe.
 */
public final class DerivationBudget {
  private long asked;

  /** A budget of {@link Limits#ITERATIONS_PER_FILE}. */
  public DerivationBudget() {}

  /**
   * Takes the rounds of one more protection.
   *
   * @throws SymbolonException if the file asks for more in all than is carried out
   */
  public synchronized void take(int rounds) {
    asked += rounds;
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
  }
}
