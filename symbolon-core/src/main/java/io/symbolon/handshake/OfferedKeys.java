// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

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
import org.jspecify.annotations.Nullable;

/**
 * What a client shows when it is asked for a certificate, noting the question: whether there was
 * one, which authorities it named, and whether there was something to show.
 */
public final class OfferedKeys extends X509ExtendedKeyManager {
  private final Optional<CredentialKeyManager> keys;
  private volatile boolean asked;
  private volatile boolean shown;
  private volatile List<String> authoritiesNamed = List.of();

  public OfferedKeys(Optional<Credential> credential) {
    this.keys = credential.map(CredentialKeyManager::new);
  }

  /** Whether the server asked for a certificate. */
  public boolean isAsked() {
    return asked;
  }

  /** Whether a certificate was shown that the question allows. */
  public boolean isShown() {
    return shown;
  }

  /** The authorities that the server named, as RFC 4514 text. */
  public List<String> authoritiesNamed() {
    return authoritiesNamed;
  }

  private @Nullable String note(Principal @Nullable [] issuers, @Nullable String alias) {
    asked = true;
    shown |= alias != null;
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
        issuers, keys.isPresent() ? keys.get().chooseClientAlias(keyTypes, issuers, socket) : null);
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
