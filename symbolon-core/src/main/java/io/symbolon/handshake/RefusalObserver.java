// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import io.symbolon.finding.Side;
import io.symbolon.party.Party;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Optional;
import javax.net.ssl.SSLSession;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;

/** Looks on at a rehearsal: who refused whose certificates with what, and what was asked for. */
public final class RefusalObserver {
  private final OfferedKeys keys;
  private volatile @Nullable CertificateException refusal;

  public RefusalObserver(Party client) {
    this.keys = new OfferedKeys(client.credential());
  }

  /** What the judge of certificates said, where it was the one who refused. */
  public Optional<CertificateException> refusal() {
    return Optional.ofNullable(refusal);
  }

  /** What the client shows, and what it was asked. */
  public OfferedKeys keys() {
    return keys;
  }

  /** A judge of certificates, for either side, whose refusal is noted. */
  public X509ExtendedTrustManager judge(Optional<X509ExtendedTrustManager> judge) {
    return new Judge(judge);
  }

  private final class Judge extends JudgeInFront {
    private final Optional<X509ExtendedTrustManager> behind;

    Judge(Optional<X509ExtendedTrustManager> behind) {
      this.behind = behind;
    }

    @Override
    public void judge(
        Side shownBy,
        X509Certificate[] chain,
        String type,
        Optional<SSLSession> session,
        Question question)
        throws CertificateException {
      try {
        if (behind.isPresent()) {
          question.to(behind.get());
        }
      } catch (CertificateException e) {
        refusal = e;
        throw e;
      }
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return behind
          .map(X509ExtendedTrustManager::getAcceptedIssuers)
          .orElseGet(super::getAcceptedIssuers);
    }
  }
}
