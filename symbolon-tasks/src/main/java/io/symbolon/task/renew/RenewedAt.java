// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import java.util.Locale;

/**
 * A server that is to show a renewed certificate; or a program of one's own that is to take it.
 *
 * @param server the server's name as its makers write it; {@code program} for a program
 * @param site which of its places
 * @param home where its settings are
 * @param state whether it shows it
 */
public record RenewedAt(String server, String site, String home, State state) {
  /** Whether a server shows a certificate. */
  public enum State {
    /** It was seen to show it, and did so before. */
    SHOWN,
    /** It was given the certificate just now, and was seen to show it. */
    GIVEN,
    /** It was not seen to show it. */
    NOT_SHOWN,
    /** Somebody gave it another one: it is left alone. */
    CHANGED;

    /** {@return for programs} */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** {@return whether the server shows it} */
    public boolean isShown() {
      return this == SHOWN || this == GIVEN;
    }
  }
}
