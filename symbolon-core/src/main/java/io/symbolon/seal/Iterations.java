// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Element;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import java.math.BigInteger;

/** Reads the number of rounds of a password derivation, and refuses one that would take forever. */
final class Iterations {
  private Iterations() {}

  static int read(Element number) {
    BigInteger rounds = number.integer();
    if (rounds.bitLength() > 64) {
      // A number of a mebibyte is not worth being written out in digits.
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "What is protected by a password can't be opened.",
          "Its number of derivation rounds has " + rounds.bitLength() + " bits.",
          "Ask its sender to write it anew with an ordinary number of rounds, such as 100000.");
    }
    if (rounds.signum() <= 0 || rounds.compareTo(BigInteger.valueOf(Limits.ITERATIONS)) > 0) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "What is protected by a password can't be opened.",
          "It asks for "
              + rounds
              + " derivation rounds; from 1 to "
              + Limits.ITERATIONS
              + " are carried out.",
          "Ask its sender to write it anew with an ordinary number of rounds, such as 100000.");
    }
    return rounds.intValue();
  }

  /**
   * What a derivation costs: its rounds, times the blocks that each computes.
   *
   * @param length how many octets are derived
   * @param digest how many octets one block gives
   * @throws SymbolonException if that is more than is carried out
   */
  static long work(int rounds, int length, int digest) {
    long work = (long) rounds * Math.max(1, (length + digest - 1) / digest);
    if (work > Limits.DERIVATION_BLOCKS_EACH) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "What is protected by a password can't be opened.",
          "It asks for "
              + rounds
              + " derivation rounds for "
              + length
              + " octets: that is "
              + work
              + " blocks, and up to "
              + Limits.DERIVATION_BLOCKS_EACH
              + " are computed.",
          "Ask its sender to write it anew with an ordinary number of rounds, such as 100000.");
    }
    return work;
  }
}
