// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.server.place.Mode;
import java.util.Locale;

/** For which wishes settings are meant. */
enum When {
  /** TLS at all: what tells that it is on. */
  ALWAYS,
  /** TLS at all; a server without these speaks it as well. */
  ALSO,
  /** Clients are asked for a certificate. */
  ASKS_CLIENTS,
  /** The server alone shows one. */
  ONE_WAY,
  /** Clients may show one. */
  OPTIONAL,
  /** Every client shows one. */
  MUTUAL,
  /** Clients are asked, and there are revocation lists. */
  LISTS,
  /** Clients are asked, and there are none. */
  NO_LISTS,
  /** Never written: what only tells something, such as an address. */
  SEEN;

  String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** Whether they are written in a mode. */
  boolean applies(Mode mode, boolean lists) {
    return switch (this) {
      case ALWAYS, ALSO -> mode.isTls();
      case ASKS_CLIENTS -> mode.asksClients();
      case ONE_WAY -> mode == Mode.ONE_WAY;
      case OPTIONAL -> mode == Mode.OPTIONAL;
      case MUTUAL -> mode == Mode.MUTUAL;
      case LISTS -> mode.asksClients() && lists;
      case NO_LISTS -> mode.asksClients() && !lists;
      case SEEN -> false;
    };
  }

  /** Whether they are for some modes alone. */
  boolean isForModes() {
    return this != ALWAYS && this != ALSO && this != SEEN;
  }
}
