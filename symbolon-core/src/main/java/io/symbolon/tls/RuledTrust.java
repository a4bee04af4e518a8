package io.symbolon.tls;

import io.symbolon.SymbolonException;
import io.symbolon.x509.Certificate;
import java.net.Socket;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Optional;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedTrustManager;

/** The platform's judge of certificate paths, and after it a rule for peers. */
final class RuledTrust extends X509ExtendedTrustManager {
  private final X509ExtendedTrustManager judge;
  private final PeerRule rule;

  RuledTrust(X509ExtendedTrustManager judge, PeerRule rule) {
    this.judge = judge;
    this.rule = rule;
  }

  private void follow(X509Certificate[] chain) throws CertificateException {
    Optional<String> refusal;
    try {
      refusal = rule.refusal(Certificate.of(chain[0]));
    } catch (SymbolonException e) {
      throw new CertificateException(
          "The certificate can't be held against the rule: " + rule + ". " + e.seen(), e);
    }
    if (refusal.isPresent()) {
      throw new CertificateException(refusal.get());
    }
  }

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type) throws CertificateException {
    judge.checkClientTrusted(chain, type);
    follow(chain);
  }

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket)
      throws CertificateException {
    judge.checkClientTrusted(chain, type, socket);
    follow(chain);
  }

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine)
      throws CertificateException {
    judge.checkClientTrusted(chain, type, engine);
    follow(chain);
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type) throws CertificateException {
    judge.checkServerTrusted(chain, type);
    follow(chain);
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
      throws CertificateException {
    judge.checkServerTrusted(chain, type, socket);
    follow(chain);
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
      throws CertificateException {
    judge.checkServerTrusted(chain, type, engine);
    follow(chain);
  }

  @Override
  public X509Certificate[] getAcceptedIssuers() {
    return judge.getAcceptedIssuers();
  }
}
