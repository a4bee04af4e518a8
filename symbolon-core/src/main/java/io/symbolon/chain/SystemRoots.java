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
import java.util.stream.Stream;
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
  private final List<Certificate> known;
  private @Nullable Map<DistinguishedName, List<Certificate>> bySubject;

  private SystemRoots(boolean ask, List<Certificate> known) {
    this.ask = ask;
    this.known = known;
  }

  /** {@return the roots of the running Java} */
  public static SystemRoots ofPlatform() {
    return new SystemRoots(true, List.of());
  }

  /** {@return no roots at all} */
  public static SystemRoots none() {
    return new SystemRoots(false, List.of());
  }

  /**
   * {@return the same behind roots that the other side is known to have; the running Java's are not
   * even read where one of these is the one}
   *
   * @param more the roots; certificates that are none are left out
   */
  public SystemRoots behind(Collection<Certificate> more) {
    List<Certificate> first = new ArrayList<>(known);
    more.stream().filter(Certificate::isSelfSigned).forEach(first::add);
    return new SystemRoots(ask, List.copyOf(first));
  }

  /** {@return all of them} */
  public Collection<Certificate> all() {
    return Stream.concat(known.stream(), loaded().values().stream().flatMap(List::stream))
        .distinct()
        .toList();
  }

  /** {@return the one that signed a certificate} */
  public Optional<Certificate> issuerOf(Certificate certificate) {
    return signed(
            known.stream().filter(one -> one.subject().equals(certificate.issuer())), certificate)
        .or(
            () ->
                signed(
                    loaded().getOrDefault(certificate.issuer(), List.of()).stream(), certificate));
  }

  private static Optional<Certificate> signed(Stream<Certificate> roots, Certificate certificate) {
    return roots.filter(root -> certificate.verify(root) == Validity.VALID).findFirst();
  }

  private synchronized Map<DistinguishedName, List<Certificate>> loaded() {
    Map<DistinguishedName, List<Certificate>> all = bySubject;
    if (all == null) {
      all = ask ? load() : Map.of();
      bySubject = all;
    }
    return all;
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
