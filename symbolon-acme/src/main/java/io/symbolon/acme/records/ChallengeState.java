// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import java.util.Locale;
import java.util.Set;

/** Where a challenge stands (RFC 8555, 7.1.6), and how it goes on from there. */
public enum ChallengeState {
  /** Nobody has said that it is met; over with its authorization. */
  PENDING,
  /** It is looked at; looked at again when its process is gone. */
  PROCESSING,
  /** It is met. */
  VALID,
  /** It is not met, or its time is over. */
  INVALID;

  /** {@return how it is written, on record and over the wire} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** {@return what can come of it; nothing where it is an end} */
  public Set<ChallengeState> ways() {
    return switch (this) {
      case PENDING -> Set.of(PROCESSING, INVALID);
      case PROCESSING -> Set.of(VALID, INVALID);
      case VALID, INVALID -> Set.of();
    };
  }

  static ChallengeState of(String word) {
    return valueOf(word.toUpperCase(Locale.ROOT));
  }
}
