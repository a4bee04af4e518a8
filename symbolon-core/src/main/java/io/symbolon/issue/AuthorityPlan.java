// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.key.KeyKind;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.NameConstraints;
import java.util.OptionalInt;

/**
 * What a new authority shall be.
 *
 * @param subject its name
 * @param kind the kind of its key
 * @param lasts how long it is valid; an intermediate never outlives the authority above it
 * @param pathLength how many intermediates may follow below it; empty for any number
 * @param constraints the hosts it may sign for
 */
public record AuthorityPlan(
    DistinguishedName subject,
    KeyKind kind,
    Lifetime lasts,
    OptionalInt pathLength,
    NameConstraints constraints) {
  /**
   * {@return any number of intermediates below, and no constraint on hosts}
   *
   * @param lasts how long it is valid
   */
  public static AuthorityPlan of(DistinguishedName subject, KeyKind kind, Lifetime lasts) {
    return new AuthorityPlan(subject, kind, lasts, OptionalInt.empty(), NameConstraints.none());
  }

  /**
   * With a path length.
   *
   * @return a changed copy
   */
  public AuthorityPlan withPathLength(int length) {
    return new AuthorityPlan(subject, kind, lasts, OptionalInt.of(length), constraints);
  }

  /**
   * With constraints on hosts.
   *
   * @param newConstraints the name constraints
   * @return a changed copy
   */
  public AuthorityPlan with(NameConstraints newConstraints) {
    return new AuthorityPlan(subject, kind, lasts, pathLength, newConstraints);
  }
}
