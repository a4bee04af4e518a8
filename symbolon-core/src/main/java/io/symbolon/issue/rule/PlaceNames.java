// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.rule;

import java.util.Set;

/** Tells names of places that are spelled out from shortened ones. */
final class PlaceNames {
  /** Short forms that are written without a point as well. */
  private static final Set<String> SHORT = Set.of("St", "Ste", "Mt", "Ft", "Pt", "Bch", "Hbr");

  private static final int SHORT_LENGTH = 3; // capitals alone up to this length are a code

  private PlaceNames() {}

  static boolean looksShortened(String place) {
    for (String word : place.split("[\\s,/-]+", -1)) {
      boolean capitals =
          !word.isEmpty()
              && word.length() <= SHORT_LENGTH
              && word.chars().allMatch(Character::isUpperCase);
      if (word.contains(".") || capitals || SHORT.contains(word)) {
        return true;
      }
    }
    return false;
  }
}
