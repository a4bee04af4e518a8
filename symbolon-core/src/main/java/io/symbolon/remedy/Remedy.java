// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

import java.util.List;
import java.util.Objects;

/**
 * What to do about something.
 *
 * @param advice what to do, in full sentences that hold for every way of using Symbolon; empty
 *     where there is nothing to do
 * @param actions what Symbolon itself can do about it; any of them is enough
 */
public record Remedy(String advice, List<Action> actions) {
  /** Nothing is to be done. */
  public static final Remedy NONE = new Remedy("", List.of());

  /**
   * Copies the list.
   *
   * @param advice what to do, as a sentence
   * @param actions the commands that do it
   */
  public Remedy {
    Objects.requireNonNull(advice, "advice");
    actions = List.copyOf(actions);
  }

  /**
   * Advice, and what Symbolon itself can do about it.
   *
   * @param advice what to do, as a sentence
   * @param actions the commands that do it
   * @return the remedy
   */
  public static Remedy of(String advice, Action... actions) {
    return new Remedy(advice, List.of(actions));
  }

  /** {@return whether nothing is to be done} */
  public boolean isEmpty() {
    return advice.isEmpty() && actions.isEmpty();
  }

  /** The advice alone. */
  @Override
  public String toString() {
    return advice;
  }
}
