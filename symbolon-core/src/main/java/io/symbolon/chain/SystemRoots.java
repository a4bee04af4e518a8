// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.failure.SymbolonException;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509TrustManager;
import org.jspecify.annotations.Nullable;

/**
 * The roots that the running Java trusts by itself: public authorities, mostly. A chain that ends
 * just below one of them is complete although no file holds the root. They are loaded when first
 * asked for. Thread-safe.
 */
public final class SystemRoots {
  private final boolean ask;
  private @Nullable Map<DistinguishedName, List<Certificate>> bySubject;

  private SystemRoots(boolean ask) {
    this.ask = ask;
  }

  /** {@return the roots of the running Java} */
  public static SystemRoots ofPlatform() {
    return new SystemRoots(true);
  }

  /** {@return no roots at all} */
  public static SystemRoots none() {
    return new SystemRoots(false);
  }

  /** {@return all of them} */
  public Collection<Certificate> all() {
    return loaded().values().stream().flatMap(List::stream).toList();
  }

  /**
   * {@return the one that signed a certificate}
   *
   * @param certificate the certificate
   */
  public Optional<Certificate> issuerOf(Certificate certificate) {
    return loaded().getOrDefault(certificate.issuer(), List.of()).stream()
        .filter(root -> certificate.verify(root) == Validity.VALID)
        .findFirst();
  }

  private synchronized Map<DistinguishedName, List<Certificate>> loaded() {
    Map<DistinguishedName, List<Certificate>> known = bySubject;
    if (known == null) {
      known = ask ? load() : Map.of();
      bySubject = known;
    }
    return known;
  }

  private static Map<DistinguishedName, List<Certificate>> load() {
    Map<DistinguishedName, List<Certificate>> loaded = new HashMap<>();
    try {
      List<Certificate> own = RootsFile.read();
      if (!own.isEmpty()) {
        for (Certificate root : own) {
          loaded.computeIfAbsent(root.subject(), s -> new ArrayList<>()).add(root);
        }
        return loaded;
      }
      TrustManagerFactory factory =
          TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
      factory.init((KeyStore) null);
      for (TrustManager manager : factory.getTrustManagers()) {
        if (manager instanceof X509TrustManager trust) {
          for (X509Certificate root : trust.getAcceptedIssuers()) {
            Certificate certificate = Certificate.of(root);
            loaded.computeIfAbsent(certificate.subject(), s -> new ArrayList<>()).add(certificate);
          }
        }
      }
    } catch (GeneralSecurityException | SymbolonException e) {
      return Map.of(); // a Java without roots of its own trusts none
    }
    return loaded;
  }
}
