// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import io.symbolon.survey.Holding;
import java.util.List;

/**
 * One thing, and what it was paired with on the other side.
 *
 * @param relation how they stand to each other
 * @param one its places on the one side; empty where it is on the other alone
 * @param other its places on the other side; empty where it is on the one alone
 * @param differences in what they differ; of what is the same, at most in what a store says of it
 */
public record Compared(
    Relation relation,
    List<? extends Holding> one,
    List<? extends Holding> other,
    List<Difference> differences) {
  /** Copies the lists. */
  public Compared {
    one = List.copyOf(one);
    other = List.copyOf(other);
    differences = List.copyOf(differences);
  }

  /** {@return the first place of it, on the one side where it is there} */
  public Holding first() {
    return one.isEmpty() ? other.get(0) : one.get(0);
  }

  /** {@return the first place of it, on the other side where it is there} */
  public Holding latest() {
    return other.isEmpty() ? one.get(0) : other.get(0);
  }

  /** {@return whether it is the same on both sides, under the same name} */
  public boolean isSame() {
    return relation == Relation.SAME && differences.isEmpty();
  }
}
