// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import java.security.GeneralSecurityException;
import java.util.Optional;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SSLContext;
import javax.net.ssl.X509ExtendedTrustManager;

/** The platform's {@link SSLContext}s, from the two halves they are made of. */
public final class TlsContexts {
  private TlsContexts() {}

  /** A client that lets every certificate pass and leaves the judging to somebody who looks on. */
  public static SSLContext observing(KeyManager keys, X509ExtendedTrustManager observer) {
    return of(Optional.of(keys), Optional.of(observer));
  }

  /** Any combination; who has no judge of certificates trusts nobody. */
  public static SSLContext of(Optional<KeyManager> keys, Optional<X509ExtendedTrustManager> trust) {
    try {
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(
          keys.stream().toArray(KeyManager[]::new),
          trust.stream().toArray(javax.net.ssl.TrustManager[]::new),
          null);
      return context;
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("the platform offers no TLS", e);
    }
  }

  /** A context to ask what the platform can do. */
  public static SSLContext platform() {
    return Platform.CONTEXT;
  }

  private static final class Platform {
    static final SSLContext CONTEXT = of(Optional.empty(), Optional.empty());
  }
}
