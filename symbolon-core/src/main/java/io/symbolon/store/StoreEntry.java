package io.symbolon.store;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.x509.Certificate;
import java.util.List;

/** What is written into a store under an alias. */
public sealed interface StoreEntry {
  /** The alias. Java's readers do not tell upper from lower case in it. */
  String alias();

  /**
   * A private key with its certificates.
   *
   * @param key the private key
   * @param chain its certificates, end-entity first
   */
  record Credential(String alias, PrivateKeyInfo key, List<Certificate> chain)
      implements StoreEntry {
    /** Copies the chain. */
    public Credential {
      chain = List.copyOf(chain);
    }
  }

  /** A certificate that is trusted. */
  record Trusted(String alias, Certificate certificate) implements StoreEntry {}
}
