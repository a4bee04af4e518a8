// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import io.symbolon.chain.SystemRoots;
import io.symbolon.failure.SymbolonException;
import io.symbolon.party.Trust;
import io.symbolon.x509.Certificate;
import java.security.GeneralSecurityException;
import java.security.cert.PKIXBuilderParameters;
import java.security.cert.TrustAnchor;
import java.security.cert.X509CertSelector;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Date;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import javax.net.ssl.CertPathTrustManagerParameters;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509ExtendedTrustManager;

/** The platform's own judge of certificate paths, trusting exactly some certificates. */
public final class TrustManagers {
  private TrustManagers() {}

  /** The judge of a trust, with the roots of the running Java where they are trusted, too. */
  public static X509ExtendedTrustManager of(Trust trust) {
    List<Certificate> anchors = new ArrayList<>(trust.certificates());
    if (trust.isWithSystem()) {
      anchors.addAll(SystemRoots.ofPlatform().all());
    }
    return of(anchors, Optional.empty());
  }

  /**
   * A judge.
   *
   * @param trust whom to trust
   * @param moment for which validity is judged; the moment of each check where there is none
   * @throws SymbolonException if {@code trust} is empty
   */
  public static X509ExtendedTrustManager of(
      Collection<Certificate> trust, Optional<Instant> moment) {
    if (trust.isEmpty()) {
      throw Trust.nobody();
    }
    try {
      Set<TrustAnchor> anchors = new HashSet<>();
      for (Certificate certificate : trust) {
        anchors.add(new TrustAnchor(certificate.toX509Certificate(), null));
      }
      PKIXBuilderParameters parameters = new PKIXBuilderParameters(anchors, new X509CertSelector());
      parameters.setRevocationEnabled(false);
      moment.ifPresent(at -> parameters.setDate(Date.from(at)));
      TrustManagerFactory factory = TrustManagerFactory.getInstance("PKIX");
      factory.init(new CertPathTrustManagerParameters(parameters));
      for (TrustManager one : factory.getTrustManagers()) {
        if (one instanceof X509ExtendedTrustManager extended) {
          return extended;
        }
      }
      throw new IllegalStateException("the platform has no judge of certificate paths");
    } catch (GeneralSecurityException e) {
      throw SymbolonException.malformed("trust", e);
    }
  }
}
