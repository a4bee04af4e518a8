// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.chain.Credential;
import io.symbolon.explain.HandshakeFailure;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.handshake.ServerNames;
import io.symbolon.handshake.ServerObserver;
import io.symbolon.handshake.TlsContexts;
import io.symbolon.handshake.TlsConversation;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Consumer;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSession;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** One handshake of the platform with a running server. */
final class ProbeHandshake {
  private static final Logger LOG = LoggerFactory.getLogger(ProbeHandshake.class);
  private static final String WEB = "http/1.1"; // RFC 7301, 6

  private final Connector connector;
  private final HostName host;
  private final int port;
  private final Optional<Credential> credential;
  private final Optional<String> user;
  private final Instant now;
  private final ServerObserver observer;
  private final Optional<Consumer<SSLParameters>> without;

  ProbeHandshake(
      Connector connector,
      HostName host,
      int port,
      Optional<Credential> credential,
      Optional<String> user,
      Instant now) {
    this(connector, host, port, credential, user, now, Optional.empty());
  }

  private ProbeHandshake(
      Connector connector,
      HostName host,
      int port,
      Optional<Credential> credential,
      Optional<String> user,
      Instant now,
      Optional<Consumer<SSLParameters>> without) {
    this.connector = connector;
    this.host = host;
    this.port = port;
    this.credential = credential;
    this.user = user;
    this.now = now;
    this.observer = new ServerObserver(credential);
    this.without = without;
  }

  /** The same as a client that can't use one kind of keys: such a client may see another one. */
  ProbeHandshake without(Consumer<SSLParameters> restriction) {
    return new ProbeHandshake(
        connector, host, port, credential, user, now, Optional.of(restriction));
  }

  ObservedHandshake run(Connector.Reached reached) {
    String where = connector.title(reached.address());
    List<Finding> findings = new ArrayList<>();
    Optional<SSLSession> session = Optional.empty();
    try (Socket socket = reached.socket().orElseThrow();
        Connector.Alarm alarm = connector.alarm(socket)) {
      try {
        session = converse(socket, reached, where, findings);
      } catch (SwitchRefusedException e) {
        findings.add(Finding.of(FindingKind.NO_SWITCH_TO_TLS, where, e.seen() + ".", e.remedy()));
      } catch (SocketTimeoutException e) {
        findings.add(stalled(where));
      } catch (IOException e) {
        findings.addAll(alarm.hasRung() ? List.of(stalled(where)) : failed(e, where));
      }
    } catch (IOException e) {
      LOG.debug("the connection could not be closed", e);
      throw connector.noAnswer(
          "The connection broke: " + VisibleText.of(String.valueOf(e.getMessage())) + ".");
    }
    return new ObservedHandshake(reached, where, session, observer, findings);
  }

  /**
   * A web server says by its choice of a protocol that it is one, so one is offered; a server that
   * minds is asked again without it.
   */
  private Optional<SSLSession> converse(
      Socket socket, Connector.Reached reached, String where, List<Finding> findings)
      throws IOException {
    boolean web = connector.mayBeWeb();
    connector.begin(socket);
    try {
      return handshake(socket, web, where, findings);
    } catch (SSLException e) {
      if (!web || !text(e).toLowerCase(Locale.ROOT).contains("no_application_protocol")) {
        throw e;
      }
      try (Socket again = connector.open(reached.address());
          Connector.Alarm alarm = connector.alarm(again)) {
        LOG.trace("asked again without a protocol, {}", alarm);
        return handshake(again, false, where, findings);
      }
    }
  }

  private Optional<SSLSession> handshake(
      Socket socket, boolean web, String where, List<Finding> findings) throws IOException {
    var context = TlsContexts.observing(observer.keys(), observer.trust());
    SSLEngine engine = context.createSSLEngine(host.toString(), port);
    engine.setUseClientMode(true);
    SSLParameters parameters = engine.getSSLParameters();
    parameters.setServerNames(ServerNames.of(host));
    if (web) {
      parameters.setApplicationProtocols(new String[] {WEB});
    }
    without.ifPresent(restriction -> restriction.accept(parameters));
    engine.setSSLParameters(parameters);
    try (TlsConversation tls = new TlsConversation(socket, engine)) {
      SSLSession session;
      try {
        session = tls.handshake();
      } catch (SSLException e) {
        Optional<FirstOctets> clear = FirstOctets.of(tls.firstOctets());
        if (clear.isEmpty()) {
          throw e;
        }
        findings.add(clear.get().finding(where, port));
        return Optional.empty();
      }
      if (without.isEmpty()) {
        ClientSide client = new ClientSide(observer, credential, user, host, now, where);
        findings.addAll(client.afterHandshake(tls, socket, connector));
      }
      return Optional.of(session);
    }
  }

  private Finding stalled(String where) {
    if (observer.chain().isEmpty()) {
      throw connector.noAnswer(
          "Something accepts the connection, but does not come to TLS within the time limit.");
    }
    return HandshakeFailure.explain(
        new SocketTimeoutException("timed out"), where, observer.clientCertificateAsked());
  }

  private List<Finding> failed(IOException e, String where) {
    Finding explained = HandshakeFailure.explain(e, where, observer.clientCertificateAsked());
    boolean aboutClient =
        (observer.clientCertificateShown() && e instanceof SSLException)
            || explained.is(FindingKind.CLIENT_CERTIFICATE_REQUIRED);
    if (aboutClient && !explained.is(FindingKind.KEY_DOES_NOT_FIT)) {
      return new ClientSide(observer, credential, user, host, now, where)
          .refused("it said: " + text(e));
    }
    Optional<StartWith> usual = StartWith.ofPort(port);
    boolean plain =
        explained.is(FindingKind.NO_TLS) || explained.is(FindingKind.CLOSED_DURING_HANDSHAKE);
    return plain && usual.isPresent() && !connector.startsInClearText()
        ? List.of(
            Finding.of(
                explained.kind(),
                where,
                explained.statement(),
                Remedy.of(
                    "Port " + port + " is that of a service that begins in clear text.",
                    Action.again().with(Input.START_WITH, usual.get().word()))))
        : List.of(explained);
  }

  private static String text(IOException e) {
    return VisibleText.of(String.valueOf(e.getMessage()));
  }
}
