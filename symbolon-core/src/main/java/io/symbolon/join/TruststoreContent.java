// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import io.symbolon.entry.StoreEntry;
import io.symbolon.finding.Finding;
import java.util.List;

/**
 * What a truststore shall hold.
 *
 * @param entries the certificates under their aliases
 * @param added those of them that are new
 * @param findings what is to be said about it
 */
public record TruststoreContent(
    List<StoreEntry.Trusted> entries, List<StoreEntry.Trusted> added, List<Finding> findings) {
  /** Copies the lists. */
  public TruststoreContent {
    entries = List.copyOf(entries);
    added = List.copyOf(added);
    findings = List.copyOf(findings);
  }

  /** {@return the entries as a store takes them} */
  public List<StoreEntry> toEntries() {
    return List.copyOf(entries);
  }
}
