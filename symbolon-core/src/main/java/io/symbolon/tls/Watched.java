package io.symbolon.tls;

import java.net.Socket;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Optional;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;

/** Looks on at a rehearsal: who refused whose certificates with what, and what was asked for. */
final class Watched {
  private final AskedKeys keys;
  private volatile @Nullable CertificateException refusal;

  Watched(Party client) {
    this.keys = new AskedKeys(client.credential());
  }

  /** What the judge of certificates said, where it was the one who refused. */
  Optional<CertificateException> refusal() {
    return Optional.ofNullable(refusal);
  }

  /** What the client shows, and what it was asked. */
  AskedKeys keys() {
    return keys;
  }

  /** A judge of certificates, for either side, whose refusal is noted. */
  X509ExtendedTrustManager judge(Optional<X509ExtendedTrustManager> judge) {
    return new Judge(judge);
  }

  private final class Judge extends X509ExtendedTrustManager {
    private final Optional<X509ExtendedTrustManager> judge;

    Judge(Optional<X509ExtendedTrustManager> judge) {
      this.judge = judge;
    }

    private interface Check {
      void run(X509ExtendedTrustManager judge) throws CertificateException;
    }

    private void check(Check check) throws CertificateException {
      try {
        if (judge.isPresent()) {
          check.run(judge.get());
        }
      } catch (CertificateException e) {
        refusal = e;
        throw e;
      }
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      check(j -> j.checkClientTrusted(chain, type));
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket)
        throws CertificateException {
      check(j -> j.checkClientTrusted(chain, type, socket));
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine)
        throws CertificateException {
      check(j -> j.checkClientTrusted(chain, type, engine));
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      check(j -> j.checkServerTrusted(chain, type));
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
        throws CertificateException {
      check(j -> j.checkServerTrusted(chain, type, socket));
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
        throws CertificateException {
      check(j -> j.checkServerTrusted(chain, type, engine));
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return judge
          .map(X509ExtendedTrustManager::getAcceptedIssuers)
          .orElseGet(() -> new X509Certificate[0]);
    }
  }
}
