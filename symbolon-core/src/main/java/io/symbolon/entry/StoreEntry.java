// SPDX-License-Identifier: Apache-2.0
package io.symbolon.entry;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** What is written into a store. */
public sealed interface StoreEntry {
  /**
   * {@return the alias, where there is one} Java's readers do not tell upper from lower case in it.
   */
  Optional<String> name();

  /**
   * A private key with its certificates.
   *
   * @param key the private key
   * @param chain its certificates, end-entity first; none at all only where the format allows it
   * @param own the password of this key, where it has another than the store
   * @param localKeyId the octets, in hexadecimal, that key and certificate share in a PKCS#12;
   *     chosen where there are none
   * @param created when the entry was made, if that is known
   */
  record KeyEntry(
      String alias,
      PrivateKeyInfo key,
      List<Certificate> chain,
      Optional<Secret> own,
      Optional<String> localKeyId,
      Optional<Instant> created)
      implements StoreEntry {
    /**
     * Copies the chain.
     *
     * @param chain the certificates, end-entity first
     * @param own its own protection
     * @param localKeyId the attribute that ties it to its key
     * @param created the moment it was put in
     */
    public KeyEntry {
      chain = List.copyOf(chain);
    }

    /**
     * With the password of the store, and nothing said about the rest.
     *
     * @param chain the certificates, end-entity first
     */
    public KeyEntry(String alias, PrivateKeyInfo key, List<Certificate> chain) {
      this(alias, key, chain, Optional.empty(), Optional.empty(), Optional.empty());
    }

    @Override
    public Optional<String> name() {
      return Optional.of(alias);
    }
  }

  /**
   * A certificate that is trusted.
   *
   * @param created when the entry was made, if that is known
   */
  record Trusted(String alias, Certificate certificate, Optional<Instant> created)
      implements StoreEntry {
    /** With nothing said about when the entry was made. */
    public Trusted(String alias, Certificate certificate) {
      this(alias, certificate, Optional.empty());
    }

    @Override
    public Optional<String> name() {
      return Optional.of(alias);
    }
  }

  /**
   * A certificate that is only there, as a PKCS#12 can hold one.
   *
   * @param name its friendly name
   * @param localKeyId its local key id, in hexadecimal
   */
  record Plain(Optional<String> name, Certificate certificate, Optional<String> localKeyId)
      implements StoreEntry {}

  /** A revocation list, as a PKCS#12 can hold one. */
  record Crl(Optional<String> name, RevocationList list) implements StoreEntry {}
}
