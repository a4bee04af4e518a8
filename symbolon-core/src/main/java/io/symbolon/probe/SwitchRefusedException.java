// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import java.io.IOException;

/** A service that begins in clear text does not switch to TLS. */
final class SwitchRefusedException extends IOException {
  private static final long serialVersionUID = 1L;

  private final String remedy;

  /**
   * A refusal.
   *
   * @param seen what the server did, as a sentence without the full stop
   * @param remedy what to do about it
   */
  SwitchRefusedException(String seen, String remedy) {
    super(seen);
    this.remedy = remedy;
  }

  String seen() {
    return String.valueOf(getMessage());
  }

  String remedy() {
    return remedy;
  }
}
