// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import java.io.EOFException;
import java.io.IOException;
import java.net.SocketException;
import java.net.SocketTimeoutException;
import java.util.Locale;
import java.util.Optional;
import javax.net.ssl.SSLException;

/** Turns the exception of a failed handshake into the sentence an administrator can act on. */
public final class HandshakeFailure {
  private HandshakeFailure() {}

  /**
   * {@return what a failed handshake means}
   *
   * @param e what it failed with
   * @param where the place to name, such as a server; may be empty
   * @param clientCertificateAsked whether the server asked for a client's certificate
   */
  public static Finding explain(IOException e, String where, boolean clientCertificateAsked) {
    String raw = VisibleText.of(String.valueOf(e.getMessage()));
    String text = raw.toLowerCase(Locale.ROOT);
    Optional<Finding> known = FailureText.one(raw, where);
    if (is(known, FindingKind.TOO_MUCH_SENT)) {
      return known.get();
    }
    if (e instanceof SocketTimeoutException) {
      return Finding.of(
          FindingKind.HANDSHAKE_STALLED,
          where,
          "The server began a handshake and then said nothing more.",
          "Look into the server's log; it may be overloaded or stuck.");
    }
    if (is(known, FindingKind.KEY_DOES_NOT_FIT)) {
      return Finding.of(
          FindingKind.KEY_DOES_NOT_FIT,
          where,
          "The key of the server does not fit the certificate that it shows: what it signs with the"
              + " key can't be verified with the certificate. The platform says: "
              + raw
              + ".",
          Remedy.of(
              "Look which files the server is configured with, and whether they belong together.",
              Action.of(Task.SURVEY)));
    }
    if (is(known, FindingKind.NO_TLS)) {
      return Finding.of(
          FindingKind.NO_TLS,
          where,
          "What answers does not speak TLS; its first octets are something else, such as plain HTTP.",
          Remedy.of(
              "Check the port: TLS often has another one. Or TLS is not switched on in the server. Or it begins"
                  + " in clear text: then say which service it is.",
              Action.again(Input.START_WITH)));
    }
    if (is(known, FindingKind.NO_COMMON_PROTOCOL)) {
      return Finding.of(
          FindingKind.NO_COMMON_PROTOCOL,
          where,
          "The server speaks no protocol version that this Java accepts (TLS 1.2 and 1.3). It said: "
              + raw
              + ".",
          "Switch TLS 1.2 or 1.3 on in the server.");
    }
    if (is(known, FindingKind.NO_CLIENT_CERTIFICATE)
        || (clientCertificateAsked && text.contains("alert: bad_certificate"))
        || (clientCertificateAsked && text.contains("alert: handshake_failure"))) {
      return clientCertificateRequired(where, "it said: " + raw);
    }
    if (is(known, FindingKind.HOST_UNKNOWN_TO_SERVER)) {
      return Finding.of(
          FindingKind.HOST_UNKNOWN_TO_SERVER,
          where,
          "The server has no certificate for the name that was asked for (SNI).",
          Remedy.of("Ask for a name the server is configured for.", Action.again(Input.HOST)));
    }
    if (text.contains("alert: handshake_failure")
        || is(known, FindingKind.NO_COMMON_CIPHER_SUITE)) {
      return Finding.of(
          FindingKind.NO_COMMON_CIPHER_SUITE,
          where,
          "Server and client found no cipher suite in common; the server may have no usable key.",
          "Check that the server's keystore holds a private key with its certificate, and its list of"
              + " cipher suites. It said: "
              + raw
              + ".");
    }
    if (e instanceof EOFException
        || is(known, FindingKind.CLOSED_DURING_HANDSHAKE)
        || text.contains("connection reset")
        || text.contains("closed")
        || e instanceof SocketException) {
      if (clientCertificateAsked) {
        return clientCertificateRequired(where, "it closed the connection when none was sent");
      }
      return Finding.of(
          FindingKind.CLOSED_DURING_HANDSHAKE,
          where,
          "The server closed the connection instead of answering the handshake.",
          Remedy.of(
              "Look into the server's log: a keystore it could not open does this, and so does a port that is"
                  + " not for TLS. A database, mail or directory server may begin in clear text: then say which"
                  + " service it is.",
              Action.again(Input.START_WITH)));
    }
    if (known.isPresent()) {
      return known.get();
    }
    return Finding.of(
        FindingKind.HANDSHAKE_FAILED,
        where,
        "The handshake failed in a way that is not explained here. The platform says: "
            + raw
            + (e instanceof SSLException ? "." : " (" + e.getClass().getSimpleName() + ")."),
        "Look into the server's log for the same moment.");
  }

  private static boolean is(Optional<Finding> known, FindingKind kind) {
    return known.filter(one -> one.is(kind)).isPresent();
  }

  /**
   * {@return the server requires a certificate of the client}
   *
   * @param where the place to name, such as a file; may be empty
   * @param seen what was seen, as a sentence
   */
  public static Finding clientCertificateRequired(String where, String seen) {
    return Finding.of(
        FindingKind.CLIENT_CERTIFICATE_REQUIRED,
        where,
        "The server requires a client's certificate (mutual TLS); " + seen + ".",
        "Clients need a credential from an authority the server trusts.");
  }
}
