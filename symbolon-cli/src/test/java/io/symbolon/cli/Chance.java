// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;

/** Choices that follow from a seed. */
final class Chance {
  private final Random random;

  Chance(long seed) {
    this.random = new Random(seed * 7919 + 17);
  }

  boolean in(int percent) {
    return random.nextInt(100) < percent;
  }

  int below(int bound) {
    return random.nextInt(bound);
  }

  @SafeVarargs
  @SuppressWarnings("varargs")
  final <T> T one(T... all) {
    return all[random.nextInt(all.length)];
  }

  <T> T one(List<T> all) {
    return all.get(random.nextInt(all.size()));
  }

  /** The text, or nothing. */
  String maybe(int percent, String text) {
    return in(percent) ? text : "";
  }

  /** These in another order. */
  <T> List<T> mixed(List<T> all) {
    List<T> mixed = new ArrayList<>(all);
    Collections.shuffle(mixed, random);
    return mixed;
  }
}
