// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import java.util.Locale;
import java.util.Optional;

/** Who shows a certificate at a place. */
public enum Mode {
  /** Nobody: clear text. */
  CLEAR,
  /** Nobody here: what arrives is handed on as it is, and what is behind speaks TLS. */
  PASSED_ON,
  /** Nobody: every handshake is refused. */
  REJECTING,
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
      if (mode.isTls() && mode.word().equals(word)) {
        return Optional.of(mode);
      }
    }
    return Optional.empty();
  }

  /** {@return whether a certificate is shown} */
  public boolean isTls() {
    return this == ONE_WAY || asksClients();
  }

  /** {@return whether clients are asked for a certificate} */
  public boolean asksClients() {
    return this == OPTIONAL || this == MUTUAL;
  }
}
