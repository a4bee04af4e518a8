// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wish;

import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.util.List;

/**
 * Whose clients a server is to trust.
 *
 * @param certificates roots, and the intermediates that a client may leave out
 * @param lists the revocation lists of these authorities; may be empty
 */
public record ClientTrust(List<Certificate> certificates, List<RevocationList> lists) {
  /** Copies the lists. */
  public ClientTrust {
    certificates = List.copyOf(certificates);
    lists = List.copyOf(lists);
  }

  /** {@return how many intermediates may stand between a root of these and a client} */
  public int depth() {
    return Math.max(1, (int) certificates.stream().filter(one -> !one.isSelfSigned()).count());
  }
}
