// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import java.util.Locale;

/** How much a {@link Finding} matters. The order is from the worst to the mildest. */
public enum Level {
  /** Will not work, or is unsafe, as it stands. */
  PROBLEM,
  /** Works, but not everywhere or not for long. */
  WARNING,
  /** Worth knowing; nothing to do. */
  NOTE;

  /** {@return the word for it in output: lower case} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
