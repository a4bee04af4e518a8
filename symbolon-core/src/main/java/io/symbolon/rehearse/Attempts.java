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
import io.symbolon.party.ProtocolVersion;
import io.symbolon.text.FailureMessages;
import io.symbolon.x509.HostName;
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
  private final boolean clientsOptional;
  private final Judges judges;

  Attempts(Optional<HostName> host, boolean clientsOptional, Judges judges) {
    this.clientsOptional = clientsOptional;
    this.host = host;
    this.judges = judges;
  }

  /**
   * What came of a handshake.
   *
   * @param why what explains its failure; nothing where it succeeded, or where the certificates
   *     that were shown explain it
   * @param refused what was refused, where it is the certificates that one side showed
   */
  record AttemptEnd(
      RehearsalReport.Try result, Optional<Finding> why, Optional<RefusedChain> refused) {}

  /**
   * That one side refused the certificates of the other. Why, tell the findings about them, which
   * are made once for all protocol versions.
   *
   * @param shownBy the side whose certificates they are
   * @param otherwise what is to be said where they have no problem that is known here
   */
  record RefusedChain(Side shownBy, Finding otherwise) {}

  /** One handshake of a pair. */
  AttemptEnd once(Party server, Party client, ProtocolVersion protocol) {
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
          Optional.of(Finding.of(FindingKind.TRUST_EMPTY, "", e.inFull(), e.remedy())),
          Optional.empty());
    }
    MemoryHandshake.HandshakeEnd outcome = MemoryHandshake.run(serverEngine, clientEngine);
    if (outcome.first().isEmpty()) {
      SSLSession session = outcome.session().orElseThrow();
      return new AttemptEnd(
          new RehearsalReport.Try(
              protocol, Optional.of(session.getCipherSuite()), Optional.empty(), ""),
          Optional.empty(),
          Optional.empty());
    }
    Side refusing = outcome.first().get();
    SSLException raw = outcome.of(refusing).orElseThrow();
    RehearsalReport.Try result =
        new RehearsalReport.Try(
            protocol, Optional.empty(), outcome.first(), FailureMessages.of(raw));
    RehearsalExplainer explainer = new RehearsalExplainer(server, client, watched);
    return watched.refusal().isPresent()
        ? new AttemptEnd(
            result, Optional.empty(), Optional.of(explainer.refused(refusing, result.raw())))
        : new AttemptEnd(
            result,
            Optional.of(explainer.explain(refusing, result.raw(), protocol)),
            Optional.empty());
  }

  private SSLEngine serverEngine(Party server, ProtocolVersion protocol, RefusalObserver watched) {
    X509ExtendedTrustManager trust = watched.judge(server.trust().map(judges::of));
    SSLContext context =
        TlsContexts.of(
            server.credential().<KeyManager>map(CredentialKeyManager::new), Optional.of(trust));
    SSLEngine engine = context.createSSLEngine();
    engine.setUseClientMode(false);
    if (clientsOptional) {
      engine.setWantClientAuth(server.trust().isPresent());
    } else {
      engine.setNeedClientAuth(server.trust().isPresent());
    }
    engine.setEnabledProtocols(new String[] {protocol.platformName()});
    return engine;
  }

  private SSLEngine clientEngine(Party client, ProtocolVersion protocol, RefusalObserver watched) {
    X509ExtendedTrustManager trust = watched.judge(client.trust().map(judges::of));
    SSLContext context = TlsContexts.of(Optional.of(watched.keys()), Optional.of(trust));
    SSLEngine engine =
        host.map(name -> context.createSSLEngine(name.toString(), 443))
            .orElseGet(context::createSSLEngine);
    engine.setUseClientMode(true);
    engine.setEnabledProtocols(new String[] {protocol.platformName()});
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
