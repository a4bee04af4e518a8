// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.wire.Sha256;
import io.symbolon.der.Der;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.Extension;
import java.net.Socket;
import java.security.KeyPair;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import javax.net.ssl.ExtendedSSLSession;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SNIServerName;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.StandardConstants;
import javax.net.ssl.X509ExtendedKeyManager;
import org.jspecify.annotations.Nullable;

/** The certificates that prove control over TLS, each shown where its name is asked for. */
final class ProofCertificates extends X509ExtendedKeyManager {
  /** The extension with what is proven (RFC 8737, 6.1). */
  private static final Oid EXTENSION = Oid.of("1.3.6.1.5.5.7.1.31");

  private static final Duration LASTS = Duration.ofDays(7);

  private final Clock clock;
  private final SecureRandom random;
  private final Map<String, Proving> shown = new ConcurrentHashMap<>();

  private record Proving(PrivateKey key, Certificate certificate) {}

  ProofCertificates(Clock clock, SecureRandom random) {
    this.clock = clock;
    this.random = random;
  }

  void add(Proof.Task task) {
    KeyPair pair = KeyKind.EC_P256.generate(random);
    Instant now = clock.instant();
    Certificate certificate =
        CertificateBuilder.of(
                DistinguishedName.parse("CN=proof"), SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(
                now.minus(LASTS), now.plus(LASTS)) // clocks differ, and it proves nothing else
            .endEntity()
            .alternativeNames(List.of(task.name().generalName()))
            .add(new Extension(EXTENSION, true, Der.octets(Sha256.of(task.authorization()))))
            .signSelf(pair.getPrivate(), random);
    shown.put(serverName(task.name()), new Proving(pair.getPrivate(), certificate));
  }

  void remove(Proof.Task task) {
    shown.remove(serverName(task.name()));
  }

  boolean isEmpty() {
    return shown.isEmpty();
  }

  /** The name in the handshake; an address is asked for by its name in the DNS (RFC 8738, 6). */
  static String serverName(Identifier name) {
    return name.host().reverseName().toLowerCase(Locale.ROOT);
  }

  @Override
  public @Nullable String chooseServerAlias(
      String type, Principal @Nullable [] issuers, @Nullable Socket socket) {
    return socket instanceof SSLSocket one
        ? alias(type, (ExtendedSSLSession) one.getHandshakeSession())
        : null;
  }

  @Override
  public @Nullable String chooseEngineServerAlias(
      String type, Principal @Nullable [] issuers, SSLEngine engine) {
    return alias(type, (ExtendedSSLSession) engine.getHandshakeSession());
  }

  private @Nullable String alias(String type, ExtendedSSLSession session) {
    if (!type.equals("EC") && !type.startsWith("EC_")) {
      return null;
    }
    for (SNIServerName name : session.getRequestedServerNames()) {
      if (name.getType() == StandardConstants.SNI_HOST_NAME) {
        String host = ((SNIHostName) name).getAsciiName().toLowerCase(Locale.ROOT);
        return shown.containsKey(host) ? host : null;
      }
    }
    return null;
  }

  @Override
  public X509Certificate @Nullable [] getCertificateChain(String alias) {
    Proving one = shown.get(alias);
    return one == null ? null : new X509Certificate[] {one.certificate().toX509Certificate()};
  }

  @Override
  public @Nullable PrivateKey getPrivateKey(String alias) {
    Proving one = shown.get(alias);
    return one == null ? null : one.key();
  }

  @Override
  public String @Nullable [] getServerAliases(String type, Principal @Nullable [] issuers) {
    return null;
  }

  @Override
  public String @Nullable [] getClientAliases(String type, Principal @Nullable [] issuers) {
    return null;
  }

  @Override
  public @Nullable String chooseClientAlias(
      String[] types, Principal @Nullable [] issuers, @Nullable Socket socket) {
    return null;
  }
}
