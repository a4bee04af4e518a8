// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Labels;
import io.symbolon.survey.Place;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;

/**
 * A private key with the certificates that belong to it, as files hold them.
 *
 * @param place where the key was found
 * @param labels what its file says of it
 * @param chain its certificates, end-entity first; empty where none belongs to it
 * @param own its password, where it has another than the store it lies in
 */
record FoundKey(
    Place place, Labels labels, PrivateKeyInfo key, List<Certificate> chain, Optional<Secret> own) {
  FoundKey {
    chain = List.copyOf(chain);
  }

  /** What people may call it by. */
  List<String> names() {
    List<String> names = new java.util.ArrayList<>();
    labels.alias().ifPresent(names::add);
    chain.stream().findFirst().flatMap(c -> c.subject().commonName()).ifPresent(names::add);
    names.add(String.valueOf(place.file().getFileName()));
    return names;
  }

  FoundKey with(Labels newLabels) {
    return new FoundKey(place, newLabels, key, chain, own);
  }
}
