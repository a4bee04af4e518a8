// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.finding.Side;
import io.symbolon.handshake.JudgeInFront;
import io.symbolon.handshake.TrustManagers;
import io.symbolon.x509.Certificate;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import javax.net.ssl.SSLSession;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * The judges of certificates of one rehearsal. Each remembers what it said of a chain, so that a
 * hundred clients do not have the same server's chain checked a hundred times: of the same chain,
 * for the same host and moment and over the same protocol, it always says the same. Thread-safe.
 */
final class Judges {
  private final Optional<Instant> moment;
  private final Map<List<Certificate>, X509ExtendedTrustManager> byTrust =
      new ConcurrentHashMap<>();

  Judges(Optional<Instant> moment) {
    this.moment = moment;
  }

  X509ExtendedTrustManager of(List<Certificate> trusted) {
    return byTrust.computeIfAbsent(
        trusted, some -> new Remembering(TrustManagers.of(some, moment)));
  }

  private static final class Remembering extends JudgeInFront {
    private final X509ExtendedTrustManager platform;
    private final Map<ChainQuestion, Optional<CertificateException>> said =
        new ConcurrentHashMap<>();

    private record ChainQuestion(
        Side shownBy, List<X509Certificate> chain, String type, String protocol) {}

    Remembering(X509ExtendedTrustManager platform) {
      this.platform = platform;
    }

    @Override
    public void judge(
        Side shownBy,
        X509Certificate[] chain,
        String type,
        Optional<SSLSession> session,
        Question question)
        throws CertificateException {
      ChainQuestion asked =
          new ChainQuestion(
              shownBy, List.of(chain), type, session.map(SSLSession::getProtocol).orElse(""));
      Optional<CertificateException> refusal =
          said.computeIfAbsent(
              asked,
              key -> {
                try {
                  question.to(platform);
                  return Optional.empty();
                } catch (CertificateException e) {
                  return Optional.of(e);
                }
              });
      if (refusal.isPresent()) {
        throw refusal.get();
      }
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return platform.getAcceptedIssuers();
    }
  }
}
