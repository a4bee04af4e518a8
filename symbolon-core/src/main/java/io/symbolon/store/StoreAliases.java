// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** What all keystores that Java reads ask of their aliases. */
final class StoreAliases {
  private StoreAliases() {}

  /** Refuses two entries with aliases that Java's readers take for the same. */
  static void check(List<StoreEntry> entries) {
    Set<String> seen = new HashSet<>();
    for (StoreEntry entry : entries) {
      boolean entryOfItsOwn =
          entry instanceof StoreEntry.KeyEntry || entry instanceof StoreEntry.Trusted;
      if (entryOfItsOwn && !seen.add(entry.name().orElse("").toLowerCase(Locale.ENGLISH))) {
        throw new SymbolonException(
            Reason.AMBIGUOUS,
            "The keystore can't be written.",
            "Two entries have the alias '" + VisibleText.of(entry.name().orElse("")) + "'.",
            "Give each entry an alias of its own; upper and lower case do not count.");
      }
    }
  }
}
