// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import io.symbolon.compare.Difference.Field;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Labels;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** In what two stores differ that hold the same thing: under which alias, and what for. */
final class StoreDifferences {
  private StoreDifferences() {}

  static List<Difference> between(List<? extends Holding> one, List<? extends Holding> other) {
    List<String> here = aliases(one);
    List<String> there = aliases(other);
    if (here.isEmpty() || there.isEmpty()) {
      return role(one, other).stream().toList(); // a file without aliases says nothing of them
    }
    return folded(here).equals(folded(there))
        ? List.of()
        : List.of(new Difference(Field.ALIAS, here, there));
  }

  /** Java compares aliases without regard to case. */
  private static Set<String> folded(List<String> all) {
    return all.stream().map(text -> text.toLowerCase(Locale.ROOT)).collect(Collectors.toSet());
  }

  /** The aliases of entries; what a chain holds behind a key is found under none. */
  private static List<String> aliases(List<? extends Holding> places) {
    return places.stream()
        .filter(place -> !(place instanceof Holding.Cert) || place.labels().trusted())
        .flatMap(place -> place.alias().stream())
        .distinct()
        .sorted()
        .toList();
  }

  /** Whether both stores trust it, or one has it in a chain alone. */
  private static Optional<Difference> role(
      List<? extends Holding> one, List<? extends Holding> other) {
    boolean stores = isInStore(one) && isInStore(other);
    boolean here = isTrusted(one);
    boolean there = isTrusted(other);
    return stores && here != there
        ? Optional.of(new Difference(Field.ROLE, List.of(word(here)), List.of(word(there))))
        : Optional.empty();
  }

  private static boolean isTrusted(List<? extends Holding> places) {
    return places.stream().anyMatch(place -> place.labels().trusted());
  }

  private static boolean isInStore(List<? extends Holding> places) {
    return places.stream().anyMatch(place -> !place.labels().equals(Labels.NONE));
  }

  private static String word(boolean trusted) {
    return trusted ? "trusted" : "of a chain";
  }
}
