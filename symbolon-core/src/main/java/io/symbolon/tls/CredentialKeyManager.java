package io.symbolon.tls;

import io.symbolon.chain.Credential;
import io.symbolon.x509.Certificate;
import java.net.Socket;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedKeyManager;
import org.jspecify.annotations.Nullable;

/** Shows one credential to every peer that can use a key of its kind. */
final class CredentialKeyManager extends X509ExtendedKeyManager {
  private static final String ALIAS = "credential";

  private final PrivateKey key;
  private final X509Certificate[] chain;

  CredentialKeyManager(Credential credential) {
    this.key = credential.key().toPrivateKey();
    this.chain =
        credential.chain().stream()
            .map(Certificate::toX509Certificate)
            .toArray(X509Certificate[]::new);
  }

  private boolean isOfType(String keyType) {
    int underscore = keyType.indexOf('_'); // EC_RSA: an EC key in a certificate signed with RSA
    String type = underscore < 0 ? keyType : keyType.substring(0, underscore);
    return type.equals(key.getAlgorithm()) || type.equals(chain[0].getPublicKey().getAlgorithm());
  }

  private boolean isIssuedBy(Principal @Nullable [] issuers) {
    if (issuers == null || issuers.length == 0) {
      return true;
    }
    for (Principal issuer : issuers) {
      for (X509Certificate certificate : chain) {
        if (certificate.getIssuerX500Principal().equals(issuer)) {
          return true;
        }
      }
    }
    return false;
  }

  private @Nullable String alias(String[] keyTypes, Principal @Nullable [] issuers) {
    for (String keyType : keyTypes) {
      if (isOfType(keyType) && isIssuedBy(issuers)) {
        return ALIAS;
      }
    }
    return null;
  }

  @Override
  public String @Nullable [] getClientAliases(String keyType, Principal @Nullable [] issuers) {
    return getServerAliases(keyType, issuers);
  }

  @Override
  public @Nullable String chooseClientAlias(
      String[] keyTypes, Principal @Nullable [] issuers, @Nullable Socket socket) {
    return alias(keyTypes, issuers);
  }

  @Override
  public @Nullable String chooseEngineClientAlias(
      String[] keyTypes, Principal @Nullable [] issuers, @Nullable SSLEngine engine) {
    return alias(keyTypes, issuers);
  }

  @Override
  public String @Nullable [] getServerAliases(String keyType, Principal @Nullable [] issuers) {
    return isOfType(keyType) && isIssuedBy(issuers) ? new String[] {ALIAS} : null;
  }

  @Override
  public @Nullable String chooseServerAlias(
      String keyType, Principal @Nullable [] issuers, @Nullable Socket socket) {
    return isOfType(keyType) ? ALIAS : null;
  }

  @Override
  public @Nullable String chooseEngineServerAlias(
      String keyType, Principal @Nullable [] issuers, @Nullable SSLEngine engine) {
    return isOfType(keyType) ? ALIAS : null;
  }

  @Override
  public X509Certificate @Nullable [] getCertificateChain(String alias) {
    return alias.equals(ALIAS) ? chain.clone() : null;
  }

  @Override
  public @Nullable PrivateKey getPrivateKey(String alias) {
    return alias.equals(ALIAS) ? key : null;
  }
}
