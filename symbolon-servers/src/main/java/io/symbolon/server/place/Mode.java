// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import java.util.Locale;
import java.util.Optional;

/** Who shows a certificate at a place. */
public enum Mode {
  /** Nobody: clear text. */
  CLEAR,
  /** The server alone. */
  ONE_WAY,
  /** The server, and clients that have one. */
  OPTIONAL,
  /** The server and every client. */
  MUTUAL;

  /** {@return the word for it in options and documents} */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** {@return the mode of TLS with this word} */
  public static Optional<Mode> ofWord(String word) {
    for (Mode mode : values()) {
      if (mode != CLEAR && mode.word().equals(word)) {
        return Optional.of(mode);
      }
    }
    return Optional.empty();
  }

  /** {@return whether clients are asked for a certificate} */
  public boolean asksClients() {
    return this == OPTIONAL || this == MUTUAL;
  }
}
