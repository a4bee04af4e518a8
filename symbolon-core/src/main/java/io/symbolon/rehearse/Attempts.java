// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Side;
import io.symbolon.handshake.CredentialKeyManager;
import io.symbolon.handshake.MemoryHandshake;
import io.symbolon.handshake.RefusalObserver;
import io.symbolon.handshake.ServerNames;
import io.symbolon.handshake.TlsContexts;
import io.symbolon.party.Party;
import io.symbolon.text.FailureMessages;
import io.symbolon.x509.HostName;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSession;
import javax.net.ssl.X509ExtendedTrustManager;

/** Makes the handshakes of one rehearsal. Thread-safe. */
final class Attempts {
  private final Optional<HostName> host;
  private final Instant now;
  private final Judges judges;

  Attempts(Optional<HostName> host, Instant now, Judges judges) {
    this.host = host;
    this.now = now;
    this.judges = judges;
  }

  /**
   * What came of a handshake.
   *
   * @param why what explains its failure; nothing where it succeeded
   */
  record AttemptEnd(RehearsalReport.Try result, List<Finding> why) {
    AttemptEnd {
      why = List.copyOf(why);
    }
  }

  /** One handshake of a pair. */
  AttemptEnd once(Party server, Party client, String protocol) {
    if (server.credential().isEmpty()) {
      throw new IllegalArgumentException("a server needs a credential");
    }
    RefusalObserver watched = new RefusalObserver(client);
    SSLEngine serverEngine;
    SSLEngine clientEngine;
    try {
      serverEngine = serverEngine(server, protocol, watched);
      clientEngine = clientEngine(client, protocol, watched);
    } catch (SymbolonException e) {
      return new AttemptEnd(
          new RehearsalReport.Try(
              protocol, Optional.empty(), Optional.empty(), e.statement() + " " + e.seen()),
          List.of(
              Finding.of(FindingKind.TRUST_EMPTY, "", e.statement() + " " + e.seen(), e.remedy())));
    }
    MemoryHandshake.HandshakeEnd outcome = MemoryHandshake.run(serverEngine, clientEngine);
    if (outcome.first().isEmpty()) {
      SSLSession session = outcome.session().orElseThrow();
      return new AttemptEnd(
          new RehearsalReport.Try(
              protocol, Optional.of(session.getCipherSuite()), Optional.empty(), ""),
          List.of());
    }
    Side refusing = outcome.first().get();
    SSLException raw = outcome.of(refusing).orElseThrow();
    return new AttemptEnd(
        new RehearsalReport.Try(
            protocol, Optional.empty(), outcome.first(), FailureMessages.of(raw)),
        new RehearsalExplainer(server, client, host, now, watched)
            .explain(refusing, raw, protocol));
  }

  private SSLEngine serverEngine(Party server, String protocol, RefusalObserver watched) {
    X509ExtendedTrustManager trust = watched.judge(server.trust().map(judges::of));
    SSLContext context =
        TlsContexts.of(
            server.credential().<KeyManager>map(CredentialKeyManager::new), Optional.of(trust));
    SSLEngine engine = context.createSSLEngine();
    engine.setUseClientMode(false);
    engine.setNeedClientAuth(server.trust().isPresent());
    engine.setEnabledProtocols(new String[] {protocol});
    return engine;
  }

  private SSLEngine clientEngine(Party client, String protocol, RefusalObserver watched) {
    X509ExtendedTrustManager trust = watched.judge(client.trust().map(judges::of));
    SSLContext context = TlsContexts.of(Optional.of(watched.keys()), Optional.of(trust));
    SSLEngine engine =
        host.map(name -> context.createSSLEngine(name.toString(), 443))
            .orElseGet(context::createSSLEngine);
    engine.setUseClientMode(true);
    engine.setEnabledProtocols(new String[] {protocol});
    SSLParameters parameters = engine.getSSLParameters();
    if (host.isPresent()) {
      if (client.trust().isPresent()) {
        parameters.setEndpointIdentificationAlgorithm("HTTPS");
      }
      parameters.setServerNames(ServerNames.of(host.get()));
    }
    engine.setSSLParameters(parameters);
    return engine;
  }
}
