// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What to do about something: advice in full sentences that hold for every way of using Symbolon,
 * and what Symbolon itself can do about it.
 */
public final class Remedy {
  /** Nothing is to be done. */
  public static final Remedy NONE = new Remedy("", List.of());

  private final String advice;
  private final List<Action> actions;

  private Remedy(String advice, List<Action> actions) {
    this.advice = Objects.requireNonNull(advice, "advice");
    this.actions = List.copyOf(actions);
  }

  /**
   * Advice, and what Symbolon itself can do about it.
   *
   * @param advice what to do, as a sentence, which may hold an {@link Input#mention(String)}
   * @param actions the commands that do it; any of them is enough
   * @return the remedy
   */
  public static Remedy of(String advice, Action... actions) {
    return new Remedy(advice, List.of(actions));
  }

  /** {@return what to do; empty where there is nothing to do} */
  public String advice() {
    return advice(Naming.PLAIN);
  }

  /**
   * {@return what to do, for one way of using Symbolon}
   *
   * @param naming how inputs are given there
   */
  public String advice(Naming naming) {
    return naming.in(advice);
  }

  /** {@return what Symbolon itself can do about it; any of it is enough} */
  public List<Action> actions() {
    return actions;
  }

  /**
   * {@return the same with more advice behind it}
   *
   * @param more what else to do
   */
  public Remedy and(String more) {
    return new Remedy(advice + more, actions);
  }

  /** {@return the advice without what Symbolon itself can do} */
  public Remedy withoutActions() {
    return new Remedy(advice, List.of());
  }

  /** {@return whether nothing is to be done} */
  public boolean isEmpty() {
    return advice.isEmpty() && actions.isEmpty();
  }

  @Override
  public boolean equals(@Nullable Object other) {
    return other instanceof Remedy remedy
        && advice.equals(remedy.advice)
        && actions.equals(remedy.actions);
  }

  @Override
  public int hashCode() {
    return Objects.hash(advice, actions);
  }

  /** The advice alone. */
  @Override
  public String toString() {
    return advice();
  }
}
