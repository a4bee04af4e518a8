// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.Chain;
import io.symbolon.key.Fit;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.Placeholder;
import java.util.List;
import java.util.Optional;

/**
 * A private key and all that belongs to it.
 *
 * @param keys the places where the same private key was found; at least one, and each of them open
 * @param certificates the certificates of the key, the best one first: valid now, then the latest
 * @param requests the requests of the key
 * @param publicKeys its public key where that lies alone
 * @param chain the chain of the best certificate
 * @param fit whether key and best certificate were proven to fit
 */
public record Match(
    List<Holding.PrivateKey> keys,
    List<Certificate> certificates,
    List<Holding.Request> requests,
    List<Holding.PublicKey> publicKeys,
    Optional<Chain> chain,
    Fit fit) {
  /** Copies the lists. */
  public Match {
    keys = List.copyOf(keys);
    certificates = List.copyOf(certificates);
    requests = List.copyOf(requests);
    publicKeys = List.copyOf(publicKeys);
  }

  /**
   * {@return whether the key waits in a keystore, and no authority's certificate for it is here}
   */
  public boolean isWaiting() {
    return !certificates.isEmpty() && certificates.stream().allMatch(Placeholder::is);
  }

  /** {@return the certificates of the key that an authority signed} */
  public List<Certificate> issued() {
    return certificates.stream().filter(one -> !one.isSelfSigned()).toList();
  }

  /** {@return the first place of the key} */
  public Holding.PrivateKey key() {
    return keys.get(0);
  }

  /**
   * {@return what to call it when one of several has to be chosen: alias, common name, or file
   * name}
   */
  public String name() {
    return key()
        .alias()
        .or(() -> certificates.stream().findFirst().flatMap(c -> c.subject().commonName()))
        .or(() -> requests.stream().findFirst().flatMap(r -> r.request().subject().commonName()))
        .orElseGet(() -> String.valueOf(key().place().file().getFileName()));
  }

  /**
   * {@return whether {@code chosen} names it: by alias, common name or file name, without regard to
   * case}
   *
   * @param chosen the name that was given
   */
  public boolean isNamed(String chosen) {
    return keys.stream()
            .anyMatch(
                key ->
                    key.alias().filter(chosen::equalsIgnoreCase).isPresent()
                        || String.valueOf(key.place().file().getFileName())
                            .equalsIgnoreCase(chosen))
        || name().equalsIgnoreCase(chosen)
        || certificates.stream()
            .anyMatch(c -> c.subject().commonName().filter(chosen::equalsIgnoreCase).isPresent());
  }

  /** {@return a line that tells it from others} */
  public String description() {
    return "'"
        + VisibleText.of(name())
        + "' ("
        + key().key().map(key -> key.description()).orElse("key")
        + " in "
        + key().place()
        + ")";
  }
}
