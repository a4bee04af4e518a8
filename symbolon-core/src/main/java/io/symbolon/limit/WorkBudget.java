// SPDX-License-Identifier: Apache-2.0
package io.symbolon.limit;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;

/**
 * How much costly work one command does for what it was given: signatures that are checked or made,
 * and password derivations. Small files can ask for hours of either; a budget is shared by all that
 * a command reads, grows with the octets that were read, and says no when it is spent. Who is told
 * no reports the check as not made. Thread-safe.
 *
 * <p>Signatures are counted by what they cost on an ordinary processor, in microseconds; the
 * figures are estimates from the kind and size of the key, so that the same files always get the
 * same answer, however fast the machine is.
 */
public final class WorkBudget {
  private static final long SIGNATURES_BASE = 1_000_000; // microseconds
  private static final long SIGNATURES_PER_MIB = 1_000_000; // microseconds
  private static final int MIB = 1 << 20;

  private final AtomicLong granted = new AtomicLong(SIGNATURES_BASE);
  private final AtomicLong spent = new AtomicLong();
  private final AtomicInteger refused = new AtomicInteger();
  private final AtomicLong derived = new AtomicLong();

  private WorkBudget() {}

  /** {@return a budget of which nothing is spent} */
  public static WorkBudget full() {
    return new WorkBudget();
  }

  /**
   * Grants more, since more was read: real files may ask for so much more.
   *
   * @param octets how much was read
   */
  public void wasRead(long octets) {
    granted.addAndGet(octets * SIGNATURES_PER_MIB / MIB);
  }

  /**
   * Takes a signature.
   *
   * @param cost what it costs, in microseconds
   * @return whether it may be made or checked
   */
  public boolean allowsSignature(long cost) {
    long after = spent.addAndGet(cost);
    if (after <= granted.get()) {
      return true;
    }
    spent.addAndGet(-cost); // a cheaper one may still find room
    refused.incrementAndGet();
    return false;
  }

  /** {@return how many signatures were neither made nor checked} */
  public int refusedSignatures() {
    return refused.get();
  }

  /**
   * Takes a password derivation.
   *
   * @param blocks its rounds, times the blocks of each
   * @throws SymbolonException if all that was read asks for more than is carried out
   */
  public void takeDerivation(long blocks) {
    long after = derived.addAndGet(blocks);
    if (after > Limits.DERIVATION_BLOCKS) {
      derived.addAndGet(-blocks);
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "What is protected by a password can't be opened.",
          "All files of this command together need more than "
              + after
              + " rounds of password derivation; up to "
              + Limits.DERIVATION_BLOCKS
              + " are carried out.",
          "Name fewer files at once.");
    }
  }
}
