// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo.standin;

import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.PrivateKey;
import java.security.cert.Certificate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;

/**
 * What an invented program has read from its settings.
 *
 * @param port where it listens
 * @param tls its TLS; nothing where it speaks clear text
 * @param clients whether clients show a certificate
 */
record Setup(int port, Optional<SSLContext> tls, Clients clients) {
  private static final char[] INSIDE = "inside".toCharArray();

  /** Whether clients show a certificate. */
  enum Clients {
    NOT_ASKED,
    MAY,
    MUST
  }

  static Setup clear(int port) {
    return new Setup(port, Optional.empty(), Clients.NOT_ASKED);
  }

  static Setup of(
      int port, PrivateKey key, List<Certificate> chain, List<Certificate> trust, Clients clients)
      throws IOException, GeneralSecurityException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setKeyEntry("server", key, INSIDE, chain.toArray(Certificate[]::new));
    KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    keys.init(store, INSIDE);
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(keys.getKeyManagers(), trust.isEmpty() ? null : managers(trust), null);
    return new Setup(port, Optional.of(context), clients);
  }

  /** From one entry of a store. */
  static Setup of(
      int port,
      KeyStore store,
      String alias,
      char[] keyPassword,
      List<Certificate> trust,
      Clients clients)
      throws IOException, GeneralSecurityException {
    if (!store.isKeyEntry(alias)) {
      throw new GeneralSecurityException("no entry is called " + alias);
    }
    PrivateKey key = (PrivateKey) store.getKey(alias, keyPassword);
    return of(port, key, Arrays.asList(store.getCertificateChain(alias)), trust, clients);
  }

  private static TrustManager[] managers(List<Certificate> trust)
      throws IOException, GeneralSecurityException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    int number = 0;
    for (Certificate one : trust) {
      store.setCertificateEntry("authority" + ++number, one);
    }
    TrustManagerFactory factory =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    factory.init(store);
    return factory.getTrustManagers();
  }
}
