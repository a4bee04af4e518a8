// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import java.util.List;

/**
 * One thing in which two of a pair differ.
 *
 * @param field what
 * @param one what the one side has that the other has not; may be empty
 * @param other what the other side has that the one has not; may be empty
 */
public record Difference(Field field, List<String> one, List<String> other) {
  /** What can differ. */
  public enum Field {
    /** The alias in a store. */
    ALIAS,
    /** Whether it stands there to be trusted, or as a part of a chain. */
    ROLE,
    /** The subject. */
    SUBJECT,
    /** The issuer. */
    ISSUER,
    /** The serial number, told where nothing else differs. */
    SERIAL,
    /** When the validity begins and ends, or of a list, its dates. */
    VALIDITY,
    /** The public key. */
    KEY,
    /** The subject alternative names. */
    NAMES,
    /** What it may be used for. */
    USE,
    /** Whether it may sign others, and how long the path below it may be. */
    AUTHORITY,
    /** The algorithm of the signature. */
    SIGNATURE,
    /** Other extensions. */
    EXTENSIONS,
    /** What a revocation list revokes. */
    REVOKED
  }

  /** Copies the lists. */
  public Difference {
    one = List.copyOf(one);
    other = List.copyOf(other);
  }
}
