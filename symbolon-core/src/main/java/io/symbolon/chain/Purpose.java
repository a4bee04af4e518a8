// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.der.Oids;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What a chain is judged for. */
public enum Purpose {
  /** A TLS server shows it. */
  SERVER("TLS servers"),
  /** A TLS client shows it. */
  CLIENT("TLS clients");

  private final String title;

  Purpose(String title) {
    this.title = title;
  }

  /**
   * Such as {@code TLS servers}.
   *
   * @return the text
   */
  public String title() {
    return title;
  }

  /**
   * {@return whether the extended key usage of a certificate names it, which "any use" does not}
   */
  public boolean isNamedBy(Certificate certificate) {
    Optional<List<Oid>> usages = certificate.extensions().extendedKeyUsage();
    return usages.isEmpty()
        || usages.get().contains(this == SERVER ? Oids.SERVER_AUTH : Oids.CLIENT_AUTH);
  }

  /** {@return whether the extended key usage of a certificate allows it} */
  public boolean isAllowedBy(Certificate certificate) {
    Optional<List<Oid>> usages = certificate.extensions().extendedKeyUsage();
    return usages.isEmpty()
        || usages.get().contains(this == SERVER ? Oids.SERVER_AUTH : Oids.CLIENT_AUTH)
        || usages.get().contains(Oids.ANY_USAGE);
  }

  /** {@return all that an end-entity certificate is for} */
  public static List<Purpose> of(Certificate certificate) {
    List<Purpose> purposes = new ArrayList<>();
    for (Purpose purpose : values()) {
      if (purpose.isAllowedBy(certificate)) {
        purposes.add(purpose);
      }
    }
    return purposes;
  }
}
