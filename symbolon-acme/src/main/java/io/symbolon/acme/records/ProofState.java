// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import java.util.Locale;
import java.util.Set;

/** Where an authorization stands (RFC 8555, 7.1.6), and how it goes on from there. */
public enum ProofState {
  /** Not proven yet; over when its time is. */
  PENDING,
  /** Proven; over when its time is. */
  VALID,
  /** The proof failed. */
  INVALID,
  /** Its account has given it up. */
  DEACTIVATED,
  /** Its time is over. */
  EXPIRED;

  /** {@return how it is written, on record and over the wire} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** {@return what can come of it; nothing where it is an end} */
  public Set<ProofState> ways() {
    return switch (this) {
      case PENDING -> Set.of(VALID, INVALID, DEACTIVATED, EXPIRED);
      case VALID -> Set.of(DEACTIVATED, EXPIRED);
      case INVALID, DEACTIVATED, EXPIRED -> Set.of();
    };
  }

  static ProofState of(String word) {
    return valueOf(word.toUpperCase(Locale.ROOT));
  }
}
