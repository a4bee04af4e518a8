package io.symbolon.tls;

import io.symbolon.chain.Credential;
import java.net.Socket;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedKeyManager;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;

/**
 * Looks on at one handshake: what certificates the server sends, and whether it asks for one. It
 * refuses nothing, because a handshake that stops at the first fault shows only that one.
 */
final class Observer {
  private final Optional<CredentialKeyManager> keys;
  private volatile List<X509Certificate> chain = List.of();
  private volatile String authType = "UNKNOWN";
  private volatile boolean clientCertificateAsked;
  private volatile boolean clientCertificateShown;
  private volatile List<String> authoritiesNamed = List.of();

  /**
   * Somebody who looks on.
   *
   * @param credential what is shown where the server asks for a client's certificate
   */
  Observer(Optional<Credential> credential) {
    this.keys = credential.map(CredentialKeyManager::new);
  }

  /** The certificates as the server sent them. */
  List<X509Certificate> chain() {
    return chain;
  }

  String authType() {
    return authType;
  }

  boolean clientCertificateAsked() {
    return clientCertificateAsked;
  }

  /** Whether a certificate was shown that the server's question allows. */
  boolean clientCertificateShown() {
    return clientCertificateShown;
  }

  /** The authorities that the server named when it asked, as RFC 4514 text. */
  List<String> authoritiesNamed() {
    return authoritiesNamed;
  }

  X509ExtendedTrustManager trust() {
    return new Trust();
  }

  X509ExtendedKeyManager keys() {
    return new Keys();
  }

  private final class Trust extends X509ExtendedTrustManager {
    private void note(X509Certificate[] sent, String type) {
      chain = List.of(sent);
      authType = type;
    }

    @Override
    public void checkServerTrusted(X509Certificate[] sent, String type) {
      note(sent, type);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] sent, String type, Socket socket) {
      note(sent, type);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] sent, String type, SSLEngine engine) {
      note(sent, type);
    }

    @Override
    public void checkClientTrusted(X509Certificate[] sent, String type) {
      throw new UnsupportedOperationException("this is a client");
    }

    @Override
    public void checkClientTrusted(X509Certificate[] sent, String type, Socket socket) {
      throw new UnsupportedOperationException("this is a client");
    }

    @Override
    public void checkClientTrusted(X509Certificate[] sent, String type, SSLEngine engine) {
      throw new UnsupportedOperationException("this is a client");
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return new X509Certificate[0];
    }
  }

  private final class Keys extends X509ExtendedKeyManager {
    @Override
    public @Nullable String chooseClientAlias(
        String[] keyTypes, Principal @Nullable [] issuers, @Nullable Socket socket) {
      clientCertificateAsked = true;
      if (issuers != null) {
        authoritiesNamed = Arrays.stream(issuers).map(Principal::getName).toList();
      }
      String alias =
          keys.isPresent() ? keys.get().chooseClientAlias(keyTypes, issuers, socket) : null;
      clientCertificateShown |= alias != null;
      return alias;
    }

    @Override
    public String @Nullable [] getClientAliases(String keyType, Principal @Nullable [] issuers) {
      return keys.isPresent() ? keys.get().getClientAliases(keyType, issuers) : null;
    }

    @Override
    public String @Nullable [] getServerAliases(String keyType, Principal @Nullable [] issuers) {
      return null;
    }

    @Override
    public @Nullable String chooseServerAlias(
        String keyType, Principal @Nullable [] issuers, @Nullable Socket socket) {
      return null;
    }

    @Override
    public X509Certificate @Nullable [] getCertificateChain(String alias) {
      return keys.isPresent() ? keys.get().getCertificateChain(alias) : null;
    }

    @Override
    public @Nullable PrivateKey getPrivateKey(String alias) {
      return keys.isPresent() ? keys.get().getPrivateKey(alias) : null;
    }
  }
}
