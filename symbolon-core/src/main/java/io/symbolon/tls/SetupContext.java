// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import java.security.KeyManagementException;
import java.security.SecureRandom;
import java.util.function.Supplier;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLContextSpi;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLServerSocketFactory;
import javax.net.ssl.SSLSessionContext;
import javax.net.ssl.SSLSocketFactory;
import javax.net.ssl.TrustManager;
import org.jspecify.annotations.Nullable;

/** A context that asks for the setup to be followed anew for every socket and engine. */
final class SetupContext extends SSLContext {
  private SetupContext(Spi spi, SSLContext like) {
    super(spi, like.getProvider(), like.getProtocol());
  }

  /** A context of what never changes. */
  static SSLContext of(Supplier<LoadedSetup> once) {
    LoadedSetup only = once.get();
    return current(() -> only);
  }

  /** A context of what may be another at every call. */
  static SSLContext current(Supplier<LoadedSetup> current) {
    return new SetupContext(new Spi(current), current.get().platform());
  }

  private static final class Spi extends SSLContextSpi {
    private final Supplier<LoadedSetup> current;

    Spi(Supplier<LoadedSetup> current) {
      this.current = current;
    }

    @Override
    protected void engineInit(
        KeyManager @Nullable [] keys,
        TrustManager @Nullable [] trust,
        @Nullable SecureRandom random)
        throws KeyManagementException {
      throw new KeyManagementException(
          "this context is made from a setup and can't be initialised with something else");
    }

    @Override
    protected SSLSocketFactory engineGetSocketFactory() {
      return new SetupSocketFactory(current);
    }

    @Override
    protected SSLServerSocketFactory engineGetServerSocketFactory() {
      return new SetupServerSocketFactory(current);
    }

    @Override
    protected SSLEngine engineCreateSSLEngine() {
      LoadedSetup now = current.get();
      return now.follow(now.platform().createSSLEngine());
    }

    @Override
    protected SSLEngine engineCreateSSLEngine(String host, int port) {
      LoadedSetup now = current.get();
      return now.follow(now.platform().createSSLEngine(host, port));
    }

    @Override
    protected SSLSessionContext engineGetServerSessionContext() {
      return current.get().platform().getServerSessionContext();
    }

    @Override
    protected SSLSessionContext engineGetClientSessionContext() {
      return current.get().platform().getClientSessionContext();
    }

    @Override
    protected SSLParameters engineGetDefaultSSLParameters() {
      LoadedSetup now = current.get();
      return now.terms(now.platform().getDefaultSSLParameters());
    }

    @Override
    protected SSLParameters engineGetSupportedSSLParameters() {
      return current.get().platform().getSupportedSSLParameters();
    }
  }
}
