// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.chain.Credential;
import io.symbolon.explain.ChainExplainer;
import io.symbolon.explain.HandshakeFailure;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.handshake.ServerObserver;
import io.symbolon.handshake.TlsConversation;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.EOFException;
import java.io.IOException;
import java.io.PushbackInputStream;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** What becomes of the client in a handshake with a running server, and after it. */
final class ClientSide {
  private static final Logger LOG = LoggerFactory.getLogger(ClientSide.class);
  private static final int NAMED_SHOWN = 6;
  private static final Duration LATE_ALERT = Duration.ofSeconds(1);
  private static final String NOBODY = "symbolon";

  private final ServerObserver observer;
  private final Optional<Credential> credential;
  private final Optional<String> user;
  private final HostName host;
  private final Instant now;
  private final String where;

  ClientSide(
      ServerObserver observer,
      Optional<Credential> credential,
      Optional<String> user,
      HostName host,
      Instant now,
      String where) {
    this.observer = observer;
    this.credential = credential;
    this.user = user;
    this.host = host;
    this.now = now;
    this.where = where;
  }

  /**
   * What the server makes of the client. One that asks for no certificate is asked nothing more.
   * The others refuse a certificate, or its absence, in the handshake, right after it (TLS 1.3), or
   * when they are asked for something.
   */
  List<Finding> afterHandshake(TlsConversation tls, Socket socket, Connector connector)
      throws IOException {
    if (!observer.clientCertificateAsked()) {
      return credential.isEmpty()
          ? List.of()
          : List.of(
              notShown(
                  "the server asks for no certificate (one-way TLS).",
                  "Where it should, switch that on in the server: it needs the authorities of its"
                      + " clients."));
    }
    try {
      PushbackInputStream in = new PushbackInputStream(tls.input());
      Optional<ServiceQuestion> question = question(tls, in, socket, connector);
      if (question.isEmpty()) {
        return List.of(taken("", later(connector)));
      }
      socket.setSoTimeout((int) connector.limit().toMillis());
      String account =
          user.or(() -> credential.map(own -> own.certificate().subject().shortText()))
              .orElse(NOBODY);
      ServiceReply reply =
          question
              .get()
              .ask(
                  in,
                  tls.output(),
                  new ServiceQuestion.Asker(
                      host.toString(), account, connector.startsInClearText()));
      return told(question.get(), reply);
    } catch (EOFException e) {
      return refused("it closed the connection");
    } catch (SwitchRefusedException e) {
      return List.of(taken("", "What it then said was not understood: " + e.seen() + "."));
    } catch (SocketTimeoutException e) {
      return List.of(taken("", "It gave no answer to what it was then asked."));
    } catch (IOException e) {
      if (socket.isClosed()) { // we did that ourselves: it answered an octet now and then
        return List.of(taken("", "It did not finish its answer."));
      }
      return refused("it said: " + VisibleText.of(String.valueOf(e.getMessage())));
    }
  }

  /** Which protocol is spoken inside; an alert or a greeting may come before anything is asked. */
  private static Optional<ServiceQuestion> question(
      TlsConversation tls, PushbackInputStream in, Socket socket, Connector connector)
      throws IOException {
    Optional<ServiceQuestion> known =
        connector.question().isPresent() || tls.applicationProtocol().isEmpty()
            ? connector.question()
            : Optional.of(ServiceQuestion.HTTP);
    if (known.isPresent()) {
      return known;
    }
    socket.setSoTimeout((int) LATE_ALERT.toMillis());
    try {
      int first = in.read();
      if (first < 0) {
        throw new EOFException("the server closed the connection");
      }
      in.unread(first);
      return switch (first) {
        case '2', '4', '5' -> Optional.of(ServiceQuestion.SMTP);
        case '*' -> Optional.of(ServiceQuestion.IMAP);
        case '+', '-' -> Optional.of(ServiceQuestion.POP3);
        default -> Optional.empty();
      };
    } catch (SocketTimeoutException e) {
      LOG.trace("neither alert nor greeting within {}", LATE_ALERT);
      return Optional.empty();
    }
  }

  private static String later(Connector connector) {
    return connector.isDatabaseByAccount()
        ? "Whether the account of this client is let in is decided at the login: accounts may require"
            + " a certificate, its subject or its issuer."
        : "Some services refuse a client only when it asks for something; which service this is, is"
            + " not known, so it was asked for nothing.";
  }

  private List<Finding> told(ServiceQuestion question, ServiceReply reply) {
    String to = question.title() + " (" + reply.said() + ")";
    return switch (reply.outcome()) {
      case SERVED -> List.of(taken(" and answers " + to, ""));
      case REFUSED ->
          refused(
              "after the handshake, its answer to " + question.title() + " was: " + reply.said());
      case WITHHELD -> {
        List<Finding> both = new ArrayList<>();
        both.add(taken("", ""));
        both.add(
            Finding.of(
                FindingKind.CLIENT_NOT_SERVED,
                where,
                "The handshake is done. Then the server did not give what was asked for. Its answer to "
                    + question.title()
                    + " was: "
                    + reply.said()
                    + ".",
                "Look into the server's log for the same moment."));
        yield both;
      }
      case NOT_UNDERSTOOD ->
          List.of(
              taken(
                  "",
                  "Its answer to "
                      + question.title()
                      + " was not understood: "
                      + reply.said()
                      + "."));
    };
  }

  /** The handshake is done, and nothing speaks against this client so far. */
  private Finding taken(String answered, String more) {
    String behind = more.isEmpty() ? "" : " " + more;
    if (observer.clientCertificateShown()) {
      return Finding.of(
          FindingKind.CLIENT_CERTIFICATE_ACCEPTED,
          where,
          "The server asks for a client's certificate (mutual TLS), takes the one shown"
              + (answered.isEmpty() ? " in the handshake" : answered)
              + "."
              + behind,
          "");
    }
    return credential.isEmpty()
        ? Finding.of(
            FindingKind.CLIENT_CERTIFICATE_ASKED,
            where,
            "The server asks for a client's certificate (mutual TLS), goes on without one"
                + answered
                + "."
                + behind,
            "")
        : notShown(
            "the server asks for certificates of "
                + named()
                + "; this one is issued by "
                + credential.get().certificate().issuer()
                + ". The server goes on without one"
                + answered
                + "."
                + behind,
            "Add the client's authority to the server's truststore, or have the client's"
                + " certificate issued by one of those.");
  }

  private Finding notShown(String why, String remedy) {
    return Finding.of(
        FindingKind.CLIENT_CERTIFICATE_NOT_SHOWN,
        where,
        "The certificate of "
            + credential.orElseThrow().certificate().subject().shortText()
            + " was not shown: "
            + why,
        remedy);
  }

  private String named() {
    return observer.authoritiesNamed().isEmpty()
        ? "no authority in particular"
        : VisibleText.of(
            String.join("; ", observer.authoritiesNamed().stream().limit(NAMED_SHOWN).toList()));
  }

  /** The server wanted a certificate and did not get one that it takes. */
  List<Finding> refused(String seen) {
    if (credential.isEmpty()) {
      return List.of(HandshakeFailure.clientCertificateRequired(where, seen));
    }
    Certificate own = credential.get().certificate();
    if (!observer.clientCertificateShown()) {
      return List.of(
          Finding.of(
              FindingKind.CLIENT_AUTHORITY_NOT_NAMED,
              where,
              "The server asks for certificates of "
                  + named()
                  + "; that of "
                  + own.subject().shortText()
                  + " is issued by "
                  + own.issuer()
                  + ", so none was shown. The server refuses a client without one; "
                  + seen
                  + ".",
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
                + named()
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
}
