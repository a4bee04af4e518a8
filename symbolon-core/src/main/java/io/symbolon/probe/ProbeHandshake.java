// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.chain.Credential;
import io.symbolon.explain.ChainExplainer;
import io.symbolon.explain.HandshakeFailure;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.handshake.ServerNames;
import io.symbolon.handshake.ServerObserver;
import io.symbolon.handshake.TlsContexts;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSession;
import javax.net.ssl.SSLSocket;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** One handshake of the platform with a running server. */
public final class ProbeHandshake {
  private static final Logger LOG = LoggerFactory.getLogger(ProbeHandshake.class);
  private static final int NAMED_SHOWN = 6;
  private static final Duration LATE_ALERT = Duration.ofMillis(400);

  private final Connector connector;
  private final HostName host;
  private final int port;
  private final Optional<Credential> credential;
  private final Instant now;
  private final ServerObserver observer;

  ProbeHandshake(
      Connector connector, HostName host, int port, Optional<Credential> credential, Instant now) {
    this.connector = connector;
    this.host = host;
    this.port = port;
    this.credential = credential;
    this.now = now;
    this.observer = new ServerObserver(credential);
  }

  ObservedHandshake run(Connector.Reached reached) {
    String where = connector.title(reached.address());
    List<Finding> findings = new ArrayList<>();
    Optional<SSLSession> session = Optional.empty();
    try (Socket socket = reached.socket().orElseThrow();
        Connector.Alarm alarm = connector.alarm(socket)) {
      try {
        connector.begin(socket);
        session = handshake(socket, where, findings);
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

  private Optional<SSLSession> handshake(Socket socket, String where, List<Finding> findings)
      throws IOException {
    var context = TlsContexts.observing(observer.keys(), observer.trust());
    SSLSocket tls =
        (SSLSocket) context.getSocketFactory().createSocket(socket, host.toString(), port, true);
    SSLParameters parameters = tls.getSSLParameters();
    parameters.setServerNames(ServerNames.of(host));
    tls.setSSLParameters(parameters);
    try {
      tls.startHandshake();
      SSLSession session = tls.getSession();
      if (observer.clientCertificateAsked()) {
        findings.addAll(clientCertificate(tls, where));
      }
      return Optional.of(session);
    } finally {
      Connector.closeQuietly(tls);
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
    if (aboutClient) {
      return refused(where, "it said: " + text(e));
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

  /**
   * TLS 1.3 servers refuse a certificate, or its absence, only after the handshake: the alert comes
   * late.
   */
  private List<Finding> clientCertificate(SSLSocket tls, String where) throws IOException {
    try {
      tls.setSoTimeout((int) LATE_ALERT.toMillis());
      if (tls.getInputStream().read() < 0) {
        return refused(where, "it closed the connection");
      }
    } catch (SocketTimeoutException e) {
      LOG.trace("no alert within {}", LATE_ALERT);
    } catch (SSLException e) {
      return refused(where, "it said: " + text(e));
    }
    return List.of(
        observer.clientCertificateShown()
            ? Finding.of(
                FindingKind.CLIENT_CERTIFICATE_ACCEPTED,
                where,
                "The server asked for a client's certificate (mutual TLS) and took the one shown.",
                "")
            : Finding.of(
                FindingKind.CLIENT_CERTIFICATE_ASKED,
                where,
                "The server asks for a client's certificate (mutual TLS) and goes on without one.",
                ""));
  }

  /** The server wanted a certificate and did not get one that it takes. */
  private List<Finding> refused(String where, String seen) {
    if (credential.isEmpty()) {
      return List.of(HandshakeFailure.clientCertificateRequired(where, seen));
    }
    Certificate own = credential.get().certificate();
    String named =
        observer.authoritiesNamed().isEmpty()
            ? "no authority in particular"
            : VisibleText.of(
                String.join(
                    "; ", observer.authoritiesNamed().stream().limit(NAMED_SHOWN).toList()));
    if (!observer.clientCertificateShown()) {
      return List.of(
          Finding.of(
              FindingKind.CLIENT_AUTHORITY_NOT_NAMED,
              where,
              "The server asks for certificates of "
                  + named
                  + "; that of "
                  + own.subject().shortText()
                  + " is issued by "
                  + own.issuer()
                  + ", so none was shown.",
              "Add the client's authority to the server's truststore, or have the client's"
                  + " certificate issued by one of those."));
    }
    List<Finding> findings = new ArrayList<>();
    findings.add(
        Finding.of(
            FindingKind.CLIENT_CERTIFICATE_REFUSED,
            where,
            "The server refuses the certificate of "
                + own.subject().shortText()
                + "; "
                + seen
                + ". It asks for certificates of "
                + named
                + ".",
            Remedy.of(
                "Rehearse it with the server's files.",
                Action.of(Task.REHEARSE)
                    .with(Input.SERVER)
                    .with(Input.SERVER_TRUST)
                    .with(Input.CLIENT))));
    new ChainExplainer(Side.CLIENT, now, where)
        .all(credential.get().chain(), Optional.empty(), Optional.empty()).stream()
            .filter(finding -> finding.level() == Level.PROBLEM)
            .forEach(findings::add);
    return findings;
  }

  private static String text(IOException e) {
    return VisibleText.of(String.valueOf(e.getMessage()));
  }
}
