// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.chain.Chain;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;

/** A chain, by the fingerprints of its certificates. */
public record ChainDocument(
    @JsonPropertyDescription("The fingerprints, end-entity first.") List<String> certificates,
    @JsonPropertyDescription("Whether it ends in a root, in these files or known to this Java.")
        boolean reachesRoot,
    @JsonPropertyDescription("The root that this Java knows by itself.")
        Optional<String> systemRoot,
    @JsonPropertyDescription("The issuer of the last certificate, where it is missing.")
        Optional<String> missing,
    @JsonPropertyDescription("How many signatures in it were not checked.") int uncheckedLinks) {
  static ChainDocument of(Chain chain) {
    boolean whole = chain.reachesRoot() || chain.systemRoot().isPresent();
    return new ChainDocument(
        chain.certificates().stream().map(Certificate::sha256).toList(),
        whole,
        chain.systemRoot().map(root -> root.subject().toString()),
        whole ? Optional.empty() : Optional.of(chain.last().issuer().toString()),
        chain.uncheckedLinks());
  }
}
