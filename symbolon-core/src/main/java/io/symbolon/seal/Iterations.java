package io.symbolon.seal;

import io.symbolon.Limits;
import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.der.Element;
import java.math.BigInteger;

/** Reads the number of rounds of a password derivation, and refuses one that would take forever. */
final class Iterations {
  private Iterations() {}

  static int read(Element number) {
    BigInteger rounds = number.integer();
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
}
