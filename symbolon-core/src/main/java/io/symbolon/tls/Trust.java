package io.symbolon.tls;

import io.symbolon.chain.SystemRoots;
import io.symbolon.failure.SymbolonException;
import io.symbolon.x509.Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.X509ExtendedTrustManager;

/** Whom a side trusts. Immutable. */
public final class Trust {
  private final List<Certificate> certificates;
  private final boolean system;

  private Trust(Collection<Certificate> certificates, boolean system) {
    this.certificates = List.copyOf(certificates);
    this.system = system;
  }

  /**
   * Exactly these certificates and nobody besides.
   *
   * @throws SymbolonException if there are none: such a side could talk to nobody
   */
  public static Trust in(Collection<Certificate> certificates) {
    if (certificates.isEmpty()) {
      throw TrustManagers.nobody();
    }
    return new Trust(certificates, false);
  }

  /** Exactly these certificates and nobody besides. */
  public static Trust in(Certificate... certificates) {
    return in(List.of(certificates));
  }

  /** The roots that the running Java trusts by itself. */
  public static Trust system() {
    return new Trust(List.of(), true);
  }

  /** These certificates and the roots that the running Java trusts by itself. */
  public Trust orSystem() {
    return new Trust(certificates, true);
  }

  /** The certificates that were given, without those of the system. */
  public List<Certificate> certificates() {
    return certificates;
  }

  /** Whether the roots of the running Java are trusted, too. */
  public boolean isWithSystem() {
    return system;
  }

  /** The platform's own judge of certificate paths, trusting exactly these. */
  X509ExtendedTrustManager manager() {
    List<Certificate> anchors = new ArrayList<>(certificates);
    if (system) {
      anchors.addAll(SystemRoots.ofPlatform().all());
    }
    return TrustManagers.of(anchors, Optional.<Instant>empty());
  }

  @Override
  public String toString() {
    return "Trust(" + certificates.size() + (system ? " and the system's" : "") + ")";
  }
}
