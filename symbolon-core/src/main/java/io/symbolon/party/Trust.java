// SPDX-License-Identifier: Apache-2.0
package io.symbolon.party;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.x509.Certificate;
import java.util.Collection;
import java.util.List;

/** Whom a side trusts. Immutable. */
public final class Trust {
  private final List<Certificate> certificates;
  private final boolean system;

  private Trust(Collection<Certificate> certificates, boolean system) {
    this.certificates = List.copyOf(certificates);
    this.system = system;
  }

  /**
   * {@return exactly these certificates and nobody besides}
   *
   * @throws SymbolonException if there are none: such a side could talk to nobody
   */
  public static Trust in(Collection<Certificate> certificates) {
    if (certificates.isEmpty()) {
      throw nobody();
    }
    return new Trust(certificates, false);
  }

  /** {@return exactly these certificates and nobody besides} */
  public static Trust in(Certificate... certificates) {
    return in(List.of(certificates));
  }

  /** {@return the roots that the running Java trusts by itself} */
  public static Trust system() {
    return new Trust(List.of(), true);
  }

  /** {@return these certificates and the roots that the running Java trusts by itself} */
  public Trust orSystem() {
    return new Trust(certificates, true);
  }

  /** {@return the certificates that were given, without those of the system} */
  public List<Certificate> certificates() {
    return certificates;
  }

  /** {@return whether the roots of the running Java are trusted, too} */
  public boolean isWithSystem() {
    return system;
  }

  /**
   * What is to be said where nobody is trusted.
   *
   * @return the failure, for the caller to throw
   */
  public static SymbolonException nobody() {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "Nobody can be trusted.",
        "The trust given holds no certificate.",
        "Give the certificate of the authority that issued the peer's.");
  }

  @Override
  public String toString() {
    return "Trust(" + certificates.size() + (system ? " and the system's" : "") + ")";
  }
}
