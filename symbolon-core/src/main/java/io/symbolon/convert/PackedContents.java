// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.survey.Holding;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What files hold, arranged: every private key with its chain, and what lies alone.
 *
 * @param keys the private keys
 * @param certificates the certificates that are no part of a key's chain, or are there to be
 *     trusted as well
 * @param publicKeys the public keys that lie alone
 * @param secretKeys how many secret keys there are, which are never opened
 * @param names friendly names of certificates in chains
 * @param stores the files that are PKCS#12: a certificate in them may be there without being
 *     trusted
 */
record PackedContents(
    List<FoundKey> keys,
    List<Holding.Cert> certificates,
    List<Holding.Request> requests,
    List<Holding.PublicKey> publicKeys,
    List<Holding.Crl> revocationLists,
    int secretKeys,
    Map<Certificate, String> names,
    Set<Path> stores) {
  PackedContents {
    keys = List.copyOf(keys);
    certificates = List.copyOf(certificates);
    requests = List.copyOf(requests);
    publicKeys = List.copyOf(publicKeys);
    revocationLists = List.copyOf(revocationLists);
    names = Map.copyOf(names);
    stores = Set.copyOf(stores);
  }
}
