// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import io.symbolon.finding.Side;
import java.net.Socket;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Optional;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLSession;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;

/**
 * Stands in front of the platform's judge of certificates. The platform asks in six ways; here they
 * are one.
 */
public abstract class JudgeInFront extends X509ExtendedTrustManager {
  /** A question of the platform, to be passed on as it was asked. */
  public interface Question {
    void to(X509ExtendedTrustManager judge) throws CertificateException;
  }

  /**
   * Judges, or lets somebody else.
   *
   * @param shownBy whose certificates they are
   * @param chain the certificates as they were sent, at least one
   * @param type the kind of key exchange or key, as the platform names it
   * @param session the handshake under way, where the platform tells it
   */
  public abstract void judge(
      Side shownBy,
      X509Certificate[] chain,
      String type,
      Optional<SSLSession> session,
      Question question)
      throws CertificateException;

  private static Optional<SSLSession> session(@Nullable SSLEngine engine) {
    return engine == null ? Optional.empty() : Optional.ofNullable(engine.getHandshakeSession());
  }

  private static Optional<SSLSession> session(@Nullable Socket socket) {
    return socket instanceof SSLSocket tls
        ? Optional.ofNullable(tls.getHandshakeSession())
        : Optional.empty();
  }

  @Override
  public final void checkClientTrusted(X509Certificate[] chain, String type)
      throws CertificateException {
    judge(Side.CLIENT, chain, type, Optional.empty(), j -> j.checkClientTrusted(chain, type));
  }

  @Override
  public final void checkClientTrusted(X509Certificate[] chain, String type, Socket socket)
      throws CertificateException {
    judge(
        Side.CLIENT, chain, type, session(socket), j -> j.checkClientTrusted(chain, type, socket));
  }

  @Override
  public final void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine)
      throws CertificateException {
    judge(
        Side.CLIENT, chain, type, session(engine), j -> j.checkClientTrusted(chain, type, engine));
  }

  @Override
  public final void checkServerTrusted(X509Certificate[] chain, String type)
      throws CertificateException {
    judge(Side.SERVER, chain, type, Optional.empty(), j -> j.checkServerTrusted(chain, type));
  }

  @Override
  public final void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
      throws CertificateException {
    judge(
        Side.SERVER, chain, type, session(socket), j -> j.checkServerTrusted(chain, type, socket));
  }

  @Override
  public final void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
      throws CertificateException {
    judge(
        Side.SERVER, chain, type, session(engine), j -> j.checkServerTrusted(chain, type, engine));
  }

  @Override
  public X509Certificate[] getAcceptedIssuers() {
    return new X509Certificate[0];
  }
}
