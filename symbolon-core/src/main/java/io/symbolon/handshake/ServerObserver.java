// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Side;
import io.symbolon.x509.Certificate;
import java.security.cert.CertificateEncodingException;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import javax.net.ssl.SSLSession;
import javax.net.ssl.X509ExtendedKeyManager;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * Looks on at one handshake: what certificates the server sends, and whether it asks for one. It
 * refuses nothing, because a handshake that stops at the first fault shows only that one.
 */
public final class ServerObserver {
  private final OfferedKeys keys;
  private volatile List<X509Certificate> chain = List.of();
  private volatile String authType = "UNKNOWN";

  /**
   * Somebody who looks on.
   *
   * @param credential what is shown where the server asks for a client's certificate
   */
  public ServerObserver(Optional<Credential> credential) {
    this.keys = new OfferedKeys(credential);
  }

  /** The certificates as the server sent them. */
  public List<X509Certificate> chain() {
    return chain;
  }

  /**
   * The same, read by us, up to the first that we can't read.
   *
   * @param unreadable told of that one
   */
  public List<Certificate> read(Consumer<SymbolonException> unreadable) {
    List<Certificate> read = new ArrayList<>();
    try {
      for (X509Certificate certificate : chain) {
        read.add(Certificate.readWhole(certificate.getEncoded()));
      }
    } catch (SymbolonException e) {
      unreadable.accept(e);
    } catch (CertificateEncodingException e) {
      unreadable.accept(SymbolonException.malformed("certificate", e));
    }
    return read;
  }

  public String authType() {
    return authType;
  }

  public boolean clientCertificateAsked() {
    return keys.isAsked();
  }

  /** Whether a certificate was shown that the server's question allows. */
  public boolean clientCertificateShown() {
    return keys.isShown();
  }

  /** The authorities that the server named when it asked, as RFC 4514 text. */
  public List<String> authoritiesNamed() {
    return keys.authoritiesNamed();
  }

  public X509ExtendedTrustManager trust() {
    return new ObservingJudge();
  }

  public X509ExtendedKeyManager keys() {
    return keys;
  }

  private final class ObservingJudge extends JudgeInFront {
    @Override
    public void judge(
        Side shownBy,
        X509Certificate[] sent,
        String type,
        Optional<SSLSession> session,
        Question question) {
      chain = List.of(sent);
      authType = type;
    }
  }
}
