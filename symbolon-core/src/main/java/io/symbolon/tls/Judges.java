package io.symbolon.tls;

import io.symbolon.x509.Certificate;
import java.net.Socket;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import javax.net.ssl.SSLEngine;
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

  private static final class Remembering extends X509ExtendedTrustManager {
    private final X509ExtendedTrustManager judge;
    private final Map<Asked, Optional<CertificateException>> said = new ConcurrentHashMap<>();

    private record Asked(Side shownBy, List<X509Certificate> chain, String type, String protocol) {}

    private interface Check {
      void run() throws CertificateException;
    }

    Remembering(X509ExtendedTrustManager judge) {
      this.judge = judge;
    }

    private void ask(
        Side shownBy, X509Certificate[] chain, String type, SSLEngine engine, Check check)
        throws CertificateException {
      SSLSession session = engine.getHandshakeSession();
      Asked asked =
          new Asked(shownBy, List.of(chain), type, session == null ? "" : session.getProtocol());
      Optional<CertificateException> refusal =
          said.computeIfAbsent(
              asked,
              key -> {
                try {
                  check.run();
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
    public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine)
        throws CertificateException {
      ask(Side.CLIENT, chain, type, engine, () -> judge.checkClientTrusted(chain, type, engine));
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
        throws CertificateException {
      ask(Side.SERVER, chain, type, engine, () -> judge.checkServerTrusted(chain, type, engine));
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      judge.checkClientTrusted(chain, type);
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket)
        throws CertificateException {
      judge.checkClientTrusted(chain, type, socket);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      judge.checkServerTrusted(chain, type);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
        throws CertificateException {
      judge.checkServerTrusted(chain, type, socket);
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return judge.getAcceptedIssuers();
    }
  }
}
