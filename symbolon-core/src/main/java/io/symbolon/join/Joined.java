// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import io.symbolon.chain.Chain;
import io.symbolon.chain.Credential;
import io.symbolon.entry.StoreEntry;
import io.symbolon.finding.Finding;
import io.symbolon.survey.Place;
import java.util.List;

/**
 * A credential made from a pile of files.
 *
 * @param alias the alias it gets
 * @param credential the private key and its certificates, as they shall be written
 * @param chain the whole chain that was found
 * @param keyPlaces where its private key was found
 * @param findings what is to be said about it
 */
public record Joined(
    String alias,
    Credential credential,
    Chain chain,
    List<Place> keyPlaces,
    List<Finding> findings) {
  /** Copies the lists. */
  public Joined {
    keyPlaces = List.copyOf(keyPlaces);
    findings = List.copyOf(findings);
  }

  /** {@return the credential as an entry of a store} */
  public StoreEntry.KeyEntry toEntry() {
    return new StoreEntry.KeyEntry(alias, credential.key(), credential.chain());
  }
}
