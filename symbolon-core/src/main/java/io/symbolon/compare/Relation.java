// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

/** How a thing on the one side stands to what it was paired with on the other. */
public enum Relation {
  /** The same on both sides, octet for octet. */
  SAME,
  /** For the same subject or key, and newer on the other side. */
  RENEWED,
  /** For the same subject or key, and older on the other side. */
  OLDER,
  /** For the same subject or key, of the same dates, and not the same. */
  DIFFERENT,
  /** On the one side alone. */
  ONLY_ONE,
  /** On the other side alone. */
  ONLY_OTHER
}
