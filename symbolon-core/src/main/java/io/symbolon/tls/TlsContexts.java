package io.symbolon.tls;

import io.symbolon.SymbolonException;
import io.symbolon.chain.Credential;
import io.symbolon.x509.Certificate;
import java.security.GeneralSecurityException;
import java.util.Collection;
import java.util.Optional;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;

/**
 * The platform's {@link SSLContext}s made from credentials and trusted certificates. Trust is in
 * exactly the certificates given, never in the system's besides. Whether the peer's name is checked
 * is up to who uses the context; Java's HTTPS clients do it by themselves.
 */
public final class TlsContexts {
  private TlsContexts() {}

  /** A server that shows a credential and asks its clients for none. */
  public static SSLContext server(Credential credential) {
    return context(new CredentialKeyManager(credential), null);
  }

  /**
   * A server that shows a credential and knows whose clients to trust; that it asks for their
   * certificates is switched on at the socket or engine.
   *
   * @throws SymbolonException if {@code clientTrust} is empty
   */
  public static SSLContext server(Credential credential, Collection<Certificate> clientTrust) {
    return context(new CredentialKeyManager(credential), trustManager(clientTrust));
  }

  /**
   * A client that trusts these certificates and shows none of its own.
   *
   * @throws SymbolonException if {@code trust} is empty
   */
  public static SSLContext client(Collection<Certificate> trust) {
    return context(null, trustManager(trust));
  }

  /**
   * A client for mutual TLS.
   *
   * @throws SymbolonException if {@code trust} is empty
   */
  public static SSLContext client(Collection<Certificate> trust, Credential credential) {
    return context(new CredentialKeyManager(credential), trustManager(trust));
  }

  /** A client that lets every certificate pass and leaves the judging to somebody who looks on. */
  static SSLContext observing(KeyManager keys, X509ExtendedTrustManager observer) {
    return context(keys, observer);
  }

  /** Any combination. */
  static SSLContext of(Optional<KeyManager> keys, Optional<X509ExtendedTrustManager> trust) {
    return context(keys.orElse(null), trust.orElse(null));
  }

  private static SSLContext context(@Nullable KeyManager keys, @Nullable TrustManager trust) {
    try {
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(
          keys == null ? new KeyManager[0] : new KeyManager[] {keys},
          trust == null ? new TrustManager[0] : new TrustManager[] {trust},
          null);
      return context;
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("the platform offers no TLS", e);
    }
  }

  /** The platform's own judge of certificate paths, trusting exactly these certificates. */
  static X509ExtendedTrustManager trustManager(Collection<Certificate> trust) {
    return TrustManagers.of(trust, Optional.empty());
  }
}
