package io.symbolon.join;

import io.symbolon.Finding;
import io.symbolon.chain.Chain;
import io.symbolon.chain.Credential;
import io.symbolon.store.StoreEntry;
import java.util.List;

/**
 * A credential made from a pile of files.
 *
 * @param alias the alias it gets
 * @param credential the private key and its certificates, as they shall be written
 * @param chain the whole chain that was found
 * @param findings what is to be said about it
 */
public record Joined(String alias, Credential credential, Chain chain, List<Finding> findings) {
  /** Copies the findings. */
  public Joined {
    findings = List.copyOf(findings);
  }

  /** The credential as an entry of a store. */
  public StoreEntry toEntry() {
    return new StoreEntry.Credential(alias, credential.key(), credential.chain());
  }
}
