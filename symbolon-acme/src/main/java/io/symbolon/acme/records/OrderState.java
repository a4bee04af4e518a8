// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import java.util.Locale;
import java.util.Set;

/** Where an order stands (RFC 8555, 7.1.6), and how it goes on from there. */
public enum OrderState {
  /** Control of the names is to be proven; over when its time is. */
  PENDING,
  /** The request is awaited; over when its time is. */
  READY,
  /** The certificate is being made; settled when its process is gone. */
  PROCESSING,
  /** The certificate is there. */
  VALID,
  /** It failed. */
  INVALID;

  /** {@return how it is written, on record and over the wire} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** {@return what can come of it; nothing where it is an end} */
  public Set<OrderState> ways() {
    return switch (this) {
      case PENDING -> Set.of(READY, INVALID);
      case READY -> Set.of(PROCESSING, INVALID);
      case PROCESSING -> Set.of(READY, VALID, INVALID);
      case VALID, INVALID -> Set.of();
    };
  }

  static OrderState of(String word) {
    return valueOf(word.toUpperCase(Locale.ROOT));
  }
}
