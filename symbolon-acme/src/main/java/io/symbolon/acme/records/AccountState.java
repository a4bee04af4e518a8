// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import java.util.Locale;
import java.util.Set;

/** Where an account stands (RFC 8555, 7.1.6), and how it goes on from there. */
public enum AccountState {
  /** It may order. */
  VALID,
  /** It was given up by its owner. */
  DEACTIVATED;

  /** {@return how it is written, on record and over the wire} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** {@return what can come of it; nothing where it is an end} */
  public Set<AccountState> ways() {
    return switch (this) {
      case VALID -> Set.of(DEACTIVATED);
      case DEACTIVATED -> Set.of();
    };
  }

  static AccountState of(String word) {
    return valueOf(word.toUpperCase(Locale.ROOT));
  }
}
