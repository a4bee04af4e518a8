package io.symbolon.tls;

import java.net.Socket;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedKeyManager;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;

/** Looks on at a rehearsal: who refused whose certificates with what, and what was asked for. */
final class Watched {
  private final Party client;
  private volatile @Nullable CertificateException refusal;
  private volatile List<String> authoritiesNamed = List.of();
  private volatile boolean clientAsked;
  private volatile boolean clientAnswered;

  Watched(Party client, Party server) {
    this.client = client;
    if (server.credential().isEmpty()) {
      throw new IllegalArgumentException("a server needs a credential");
    }
  }

  /** What the judge of certificates said, where it was the one who refused. */
  Optional<CertificateException> refusal() {
    return Optional.ofNullable(refusal);
  }

  /** Whether the server asked the client for a certificate. */
  boolean isClientAsked() {
    return clientAsked;
  }

  /** Whether the client had one to show that the server's question allows. */
  boolean isClientAnswered() {
    return clientAnswered;
  }

  /** The authorities that the server named when it asked. */
  List<String> authoritiesNamed() {
    return authoritiesNamed;
  }

  X509ExtendedTrustManager serverTrust(Optional<X509ExtendedTrustManager> judge) {
    return new Judge(judge);
  }

  X509ExtendedTrustManager clientTrust(Optional<X509ExtendedTrustManager> judge) {
    return new Judge(judge);
  }

  X509ExtendedKeyManager clientKeys() {
    return new Keys(client.credential().map(CredentialKeyManager::new));
  }

  private final class Judge extends X509ExtendedTrustManager {
    private final Optional<X509ExtendedTrustManager> judge;

    Judge(Optional<X509ExtendedTrustManager> judge) {
      this.judge = judge;
    }

    private interface Check {
      void run(X509ExtendedTrustManager judge) throws CertificateException;
    }

    private void check(Check check) throws CertificateException {
      try {
        if (judge.isPresent()) {
          check.run(judge.get());
        }
      } catch (CertificateException e) {
        refusal = e;
        throw e;
      }
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      check(j -> j.checkClientTrusted(chain, type));
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket)
        throws CertificateException {
      check(j -> j.checkClientTrusted(chain, type, socket));
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine)
        throws CertificateException {
      check(j -> j.checkClientTrusted(chain, type, engine));
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      check(j -> j.checkServerTrusted(chain, type));
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
        throws CertificateException {
      check(j -> j.checkServerTrusted(chain, type, socket));
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
        throws CertificateException {
      check(j -> j.checkServerTrusted(chain, type, engine));
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return judge
          .map(X509ExtendedTrustManager::getAcceptedIssuers)
          .orElseGet(() -> new X509Certificate[0]);
    }
  }

  private final class Keys extends X509ExtendedKeyManager {
    private final Optional<CredentialKeyManager> keys;

    Keys(Optional<CredentialKeyManager> keys) {
      this.keys = keys;
    }

    private @Nullable String note(Principal @Nullable [] issuers, @Nullable String alias) {
      clientAsked = true;
      clientAnswered |= alias != null;
      if (issuers != null) {
        authoritiesNamed = Arrays.stream(issuers).map(Principal::getName).toList();
      }
      return alias;
    }

    @Override
    public @Nullable String chooseEngineClientAlias(
        String[] keyTypes, Principal @Nullable [] issuers, @Nullable SSLEngine engine) {
      return note(
          issuers,
          keys.isPresent() ? keys.get().chooseEngineClientAlias(keyTypes, issuers, engine) : null);
    }

    @Override
    public @Nullable String chooseClientAlias(
        String[] keyTypes, Principal @Nullable [] issuers, @Nullable Socket socket) {
      return note(
          issuers,
          keys.isPresent() ? keys.get().chooseClientAlias(keyTypes, issuers, socket) : null);
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
