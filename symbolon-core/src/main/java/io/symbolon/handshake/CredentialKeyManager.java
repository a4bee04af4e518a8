// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.net.Socket;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.ExtendedSSLSession;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SNIServerName;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLSession;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.X509ExtendedKeyManager;
import org.jspecify.annotations.Nullable;

/**
 * Shows one of some credentials: the one whose kind of key the peer can use, and which covers the
 * host that is asked for (a server) or comes from an authority that is named (a client).
 */
public final class CredentialKeyManager extends X509ExtendedKeyManager {
  private final List<Shown> all = new ArrayList<>();

  public CredentialKeyManager(Credential credential) {
    this(List.of(credential));
  }

  public CredentialKeyManager(Collection<Credential> credentials) {
    for (Credential credential : credentials) {
      all.add(new Shown("credential-" + all.size(), credential));
    }
  }

  /** A credential in the platform's types. */
  private static final class Shown {
    private final String alias;
    private final PrivateKey key;
    private final X509Certificate[] chain;
    private final List<GeneralName> names;

    Shown(String alias, Credential credential) {
      this.alias = alias;
      this.key = credential.key().toPrivateKey();
      this.chain =
          credential.chain().stream()
              .map(Certificate::toX509Certificate)
              .toArray(X509Certificate[]::new);
      this.names = credential.certificate().extensions().subjectAlternativeNames();
    }

    boolean isOfType(String keyType) {
      int underscore = keyType.indexOf('_'); // EC_RSA: an EC key in a certificate signed with RSA
      String type = underscore < 0 ? keyType : keyType.substring(0, underscore);
      return type.equals(key.getAlgorithm()) || type.equals(chain[0].getPublicKey().getAlgorithm());
    }

    boolean isIssuedBy(Principal @Nullable [] issuers) {
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
  }

  private @Nullable String client(String[] keyTypes, Principal @Nullable [] issuers) {
    for (Shown shown : all) {
      for (String keyType : keyTypes) {
        if (shown.isOfType(keyType) && shown.isIssuedBy(issuers)) {
          return shown.alias;
        }
      }
    }
    return null;
  }

  /**
   * The platform asks for one kind of key after the other. Where some credential covers the host,
   * the others are held back, so that a later kind can still be the one that fits.
   */
  private @Nullable String server(String keyType, Optional<HostName> asked) {
    List<Shown> covering = new ArrayList<>(all);
    asked.ifPresent(host -> covering.removeIf(shown -> !host.isCoveredBy(shown.names)));
    for (Shown shown : covering.isEmpty() ? all : covering) {
      if (shown.isOfType(keyType)) {
        return shown.alias;
      }
    }
    return null;
  }

  /** The host that the client asks for (RFC 6066, 3). */
  private static Optional<HostName> asked(@Nullable SSLSession session) {
    if (session instanceof ExtendedSSLSession extended) {
      for (SNIServerName name : extended.getRequestedServerNames()) {
        if (name instanceof SNIHostName host) {
          return parsed(host.getAsciiName());
        }
      }
    }
    return Optional.empty();
  }

  /** Whatever a client sends: what is no host name is covered by nothing. */
  private static Optional<HostName> parsed(String name) {
    try {
      return Optional.of(HostName.parse(name));
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  private Optional<HostName> asked(@Nullable Socket socket) {
    return all.size() > 1 && socket instanceof SSLSocket tls
        ? asked(tls.getHandshakeSession())
        : Optional.empty();
  }

  private Optional<HostName> asked(@Nullable SSLEngine engine) {
    return all.size() > 1 && engine != null
        ? asked(engine.getHandshakeSession())
        : Optional.empty();
  }

  private String @Nullable [] aliases(String keyType, Principal @Nullable [] issuers) {
    String[] aliases =
        all.stream()
            .filter(shown -> shown.isOfType(keyType) && shown.isIssuedBy(issuers))
            .map(shown -> shown.alias)
            .toArray(String[]::new);
    return aliases.length == 0 ? null : aliases;
  }

  private Optional<Shown> of(String alias) {
    return all.stream().filter(shown -> shown.alias.equals(alias)).findFirst();
  }

  @Override
  public String @Nullable [] getClientAliases(String keyType, Principal @Nullable [] issuers) {
    return aliases(keyType, issuers);
  }

  @Override
  public @Nullable String chooseClientAlias(
      String[] keyTypes, Principal @Nullable [] issuers, @Nullable Socket socket) {
    return client(keyTypes, issuers);
  }

  @Override
  public @Nullable String chooseEngineClientAlias(
      String[] keyTypes, Principal @Nullable [] issuers, @Nullable SSLEngine engine) {
    return client(keyTypes, issuers);
  }

  @Override
  public String @Nullable [] getServerAliases(String keyType, Principal @Nullable [] issuers) {
    return aliases(keyType, issuers);
  }

  @Override
  public @Nullable String chooseServerAlias(
      String keyType, Principal @Nullable [] issuers, @Nullable Socket socket) {
    return server(keyType, asked(socket));
  }

  @Override
  public @Nullable String chooseEngineServerAlias(
      String keyType, Principal @Nullable [] issuers, @Nullable SSLEngine engine) {
    return server(keyType, asked(engine));
  }

  @Override
  public X509Certificate @Nullable [] getCertificateChain(String alias) {
    return of(alias).map(shown -> shown.chain.clone()).orElse(null);
  }

  @Override
  public @Nullable PrivateKey getPrivateKey(String alias) {
    return of(alias).map(shown -> shown.key).orElse(null);
  }
}
