// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import java.util.List;
import java.util.Optional;

/**
 * A certificate and those above it, each signed by the next.
 *
 * @param certificates end-entity first; never empty
 * @param endsInRoot whether the last one signed itself
 * @param systemRoot the root of the running Java that signed the last one, where the files hold
 *     none
 * @param uncheckedLinks how many signatures the running Java could not check
 */
public record Chain(
    List<Certificate> certificates,
    boolean endsInRoot,
    Optional<Certificate> systemRoot,
    int uncheckedLinks) {
  /** Copies the list. */
  public Chain {
    certificates = List.copyOf(certificates);
  }

  /** {@return the certificate the chain is for} */
  public Certificate endEntity() {
    return certificates.get(0);
  }

  /** {@return the last certificate that is there} */
  public Certificate last() {
    return certificates.get(certificates.size() - 1);
  }

  /** {@return whether it leads to a root, be it among the files or one that Java itself trusts} */
  public boolean reachesRoot() {
    return endsInRoot || systemRoot.isPresent();
  }

  /** {@return whether it leads to a root, and every signature on the way was checked} */
  public boolean isComplete() {
    return reachesRoot() && uncheckedLinks == 0;
  }

  /** {@return the name of the certificate that is missing, if one is} */
  public Optional<DistinguishedName> missingIssuer() {
    return reachesRoot() ? Optional.empty() : Optional.of(last().issuer());
  }

  /** {@return the chain as a server sends it: without the root, unless it is all there is} */
  public List<Certificate> withoutRoot() {
    return endsInRoot && certificates.size() > 1
        ? certificates.subList(0, certificates.size() - 1)
        : certificates;
  }
}
