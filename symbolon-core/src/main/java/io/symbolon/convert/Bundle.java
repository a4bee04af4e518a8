// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.StoreEntry;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What shall be written.
 *
 * @param entries keys, certificates and revocation lists, in their order
 * @param requests certificate signing requests
 * @param publicKeys public keys that lie alone
 * @param names friendly names of certificates inside chains
 */
public record Bundle(
    List<StoreEntry> entries,
    List<CertificateRequest> requests,
    List<SubjectPublicKeyInfo> publicKeys,
    Map<Certificate, String> names) {
  /** Copies the lists. */
  public Bundle {
    entries = List.copyOf(entries);
    requests = List.copyOf(requests);
    publicKeys = List.copyOf(publicKeys);
    names = Map.copyOf(names);
  }

  /** {@return entries of a store alone} */
  public static Bundle of(List<? extends StoreEntry> entries) {
    return new Bundle(List.copyOf(entries), List.of(), List.of(), Map.of());
  }

  /** {@return the same with the public point in every elliptic-curve key that can be computed} */
  Bundle withPublicPoints() {
    List<StoreEntry> completed = new ArrayList<>();
    for (StoreEntry entry : entries) {
      completed.add(
          entry instanceof StoreEntry.KeyEntry key
              ? new StoreEntry.KeyEntry(
                  key.alias(),
                  key.key().withPublicPoint(),
                  key.chain(),
                  key.own(),
                  key.localKeyId(),
                  key.created())
              : entry);
    }
    return new Bundle(completed, requests, publicKeys, names);
  }

  /** {@return the entries with a private key} */
  public List<StoreEntry.KeyEntry> credentials() {
    return entries(StoreEntry.KeyEntry.class);
  }

  /** {@return the revocation lists} */
  public List<StoreEntry.Crl> revocationLists() {
    return entries(StoreEntry.Crl.class);
  }

  private <T extends StoreEntry> List<T> entries(Class<T> kind) {
    List<T> found = new ArrayList<>();
    for (StoreEntry entry : entries) {
      if (kind.isInstance(entry)) {
        found.add(kind.cast(entry));
      }
    }
    return found;
  }

  /**
   * {@return every certificate once: those of credentials before their chains, in the order of
   * entries}
   */
  public Set<Certificate> certificates() {
    Set<Certificate> all = new LinkedHashSet<>();
    for (StoreEntry entry : entries) {
      if (entry instanceof StoreEntry.KeyEntry credential) {
        all.addAll(credential.chain());
      } else if (entry instanceof StoreEntry.Trusted trusted) {
        all.add(trusted.certificate());
      } else if (entry instanceof StoreEntry.Plain plain) {
        all.add(plain.certificate());
      }
    }
    return all;
  }

  /** {@return whether there is nothing to write} */
  public boolean isEmpty() {
    return entries.isEmpty() && requests.isEmpty() && publicKeys.isEmpty();
  }
}
