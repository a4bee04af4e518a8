// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Side;
import io.symbolon.handshake.JudgeInFront;
import io.symbolon.x509.Certificate;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Optional;
import javax.net.ssl.SSLSession;
import javax.net.ssl.X509ExtendedTrustManager;

/** The platform's judge of certificate paths, and after it a rule for peers. */
final class RuledTrust extends JudgeInFront {
  private final X509ExtendedTrustManager platform;
  private final PeerRule rule;

  RuledTrust(X509ExtendedTrustManager platform, PeerRule rule) {
    this.platform = platform;
    this.rule = rule;
  }

  @Override
  public void judge(
      Side shownBy,
      X509Certificate[] chain,
      String type,
      Optional<SSLSession> session,
      Question question)
      throws CertificateException {
    question.to(platform);
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
  public X509Certificate[] getAcceptedIssuers() {
    return platform.getAcceptedIssuers();
  }
}
