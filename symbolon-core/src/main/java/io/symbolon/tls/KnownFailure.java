package io.symbolon.tls;

import io.symbolon.Finding;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A failure as programs word it, and what it means. The table is asked from the top: what says more
 * stands before what says less.
 *
 * @param id the finding's id
 * @param phrases what programs write, in lower case; any of them is enough
 * @param statement what happened, and on which side
 * @param remedy the command that mends it
 */
record KnownFailure(String id, List<String> phrases, String statement, String remedy) {
  private static final String REHEARSE =
      "symbolon rehearse --server FILES --client-trust FILES --host NAME";

  private static final List<KnownFailure> ALL =
      List.of(
          of(
              "password-wrong",
              "A keystore or key was not opened: its password is wrong, or the file is damaged.",
              "Find the right one with symbolon survey FILE --unlock ask, and correct it in the"
                  + " program's settings.",
              "keystore password was incorrect",
              "keystore was tampered with",
              "failed pkcs12 integrity checking",
              "failed to decrypt safe contents",
              "get key failed: given final block not properly padded",
              "cannot recover key",
              "mac verify failure",
              "bad decrypt",
              "bad password read",
              "pkcs12 routines::mac",
              "problems getting password"),
          of(
              "key-file-too-open",
              "A program refuses a private key because others than its owner can read its file.",
              "Give the file to the program's own user and take the others' rights: chmod 600 FILE;"
                  + " symbolon survey FILE says who can read it.",
              "has group or world access",
              "permissions should be u=rw (0600) or less"),
          of(
              "key-does-not-fit",
              "The server's private key and its certificate do not belong together.",
              "See with symbolon survey FILES which key belongs to which certificate, and join the"
                  + " right ones with symbolon join.",
              "key values mismatch",
              "private key does not match",
              "key and certificate do not match",
              "does not match the certificate public key"),
          of(
              "trust-empty",
              "The truststore that this program uses holds no certificate that it trusts: it is"
                  + " empty, its entries lack the mark of trust, or another file is used than meant.",
              "Look with symbolon survey FILE --details, and make it anew with symbolon truststore.",
              "the trustanchors parameter must be non-empty",
              "trustanchors parameter must be non-empty"),
          of(
              "peer-rule-refused",
              "The peer's certificate is trusted, but a rule for peers, which the line names, does not"
                  + " accept it.",
              "If the peer is to be let in, change the rule, or have a certificate issued that"
                  + " follows it.",
              "is refused by the rule"),
          of(
              "too-much-sent",
              "One side sends more certificates, or larger ones, than the other accepts.",
              "See with symbolon survey FILE what is in the chain; join it anew with symbolon join, so"
                  + " that only what leads to the root is sent.",
              "exceeds the maximum allowed size",
              "exceeds the maximum allowed length",
              "exceeded maximum certificate chain",
              "excessive message size",
              "certificate chain too long",
              "exceeds the maximum length"),
          of(
              "revoked",
              "The peer's certificate is on a revocation list.",
              "Ask its authority why; if it was meant, have a new certificate issued for a new key.",
              "certificate has been revoked",
              "certificate revoked",
              "certificate_revoked",
              "alert number 44"),
          of(
              "revocation-list-expired",
              "The revocation list that this program checks clients with is too old, or that of an"
                  + " authority of the chain is missing: it refuses everybody.",
              "Write it anew with symbolon authority revoke --fresh, and give the lists of all"
                  + " authorities of the chain to the server.",
              "crl has expired",
              "unable to get certificate crl",
              "could not determine revocation status",
              "undetermined_revocation_status"),
          of(
              "not-yet-valid",
              "A certificate is not valid yet, or the clock of the machine that says so is behind.",
              "Compare the clocks of both machines first; then look at the validity with symbolon"
                  + " survey FILE --details.",
              "certificatenotyetvalidexception",
              "certificate is not yet valid",
              "not yet valid",
              "notbefore:"),
          of(
              "expired",
              "A certificate is expired, or the clock of the machine that says so is ahead.",
              "See which with symbolon survey or symbolon probe, and ask for a new one with symbolon"
                  + " request --like FILE.",
              "certificateexpiredexception",
              "certificate has expired",
              "certificate_expired",
              "certificate expired",
              "alert number 45",
              "notafter:",
              "validity check failed"),
          of(
              "no-alternative-names",
              "The server's certificate has no subject alternative names; this client looks for the"
                  + " host there and nowhere else.",
              "Ask for a certificate with symbolon request --like FILE --host NAME.",
              "no subject alternative names present",
              "no subject alternative names matching",
              "relies on legacy common name"),
          of(
              "host-not-covered",
              "The server's certificate does not cover the name by which the client called it.",
              "See what it covers with symbolon probe HOST:PORT --host NAME; use one of those names,"
                  + " or ask for a certificate with symbolon request --like FILE --host NAME.",
              "no subject alternative dns name matching",
              "no name matching",
              "doesn't match any of the subject alternative names",
              "certificate subject name",
              "hostname mismatch",
              "host name mismatch",
              "does not match target host name",
              "does not match host name",
              "no alternative certificate subject name matches",
              "hostname was not verified"),
          of(
              "wrong-use",
              "A certificate is used for what it is not for: a client's on a server, a server's on a"
                  + " client, or its key usage does not allow signing.",
              "Ask for one for the right use: symbolon request --like FILE --for server (or client).",
              "extended key usage does not permit",
              "extendedkeyusage",
              "unsupported certificate purpose",
              "unsuitable certificate purpose",
              "keyusage does not allow",
              "unsupported_certificate",
              "alert unsupported certificate",
              "alert number 43"),
          of(
              "path-too-long",
              "The chain has more intermediates than an authority in it allows.",
              "See it with symbolon survey FILES; have the certificate issued by a higher authority.",
              "path length constraint",
              "pathlen constraint",
              "pathlength",
              "path length"),
          of(
              "issuer-is-no-authority",
              "A certificate in the chain signed another without being an authority's.",
              "See it with symbolon survey FILES, and join the chain of the right authority.",
              "basic constraints check failed",
              "not a ca certificate",
              "invalid ca certificate",
              "this is not a ca"),
          of(
              "name-not-permitted",
              "An authority of the chain may not sign for this host: its name constraints forbid it.",
              "Ask for a certificate without that name, or from another authority.",
              "name constraints check failed",
              "permitted subtree violation",
              "excluded subtree violation"),
          of(
              "unknown-critical-extension",
              "A certificate in the chain has an extension that is marked critical and that the side"
                  + " that says so does not know: it has to refuse the certificate.",
              "See which with symbolon survey --details FILE, and have the certificate issued again"
                  + " without it.",
              "unrecognized critical extension",
              "unhandled critical extension"),
          of(
              "refused-by-policy",
              "A key or a signature in the chain is too weak for the security policy of the side that"
                  + " says so.",
              "See which with symbolon survey FILE; make a new key and ask again with symbolon request"
                  + " --like FILE.",
              "algorithm constraints check failed",
              "does not conform to algorithm constraints",
              "algorithm constraint",
              "ee key too small",
              "ca key too small",
              "ca md too weak",
              "dh key too small",
              "disabled algorithm"),
          of(
              "no-client-certificate",
              "The server requires a client's certificate and got none: the client has none, or none"
                  + " from an authority that the server names.",
              "Rehearse it: symbolon rehearse --server FILES --server-trust FILES --client FILES.",
              "empty client certificate chain",
              "empty server certificate chain",
              "peer did not return a certificate",
              "no required ssl certificate was sent",
              "client sent no required ssl certificate",
              "certificate_required",
              "connection requires a valid client certificate",
              "bad_certificate: sent null",
              "alert number 116",
              "null cert chain"),
          of(
              "self-signed-not-trusted",
              "The peer's chain ends in a self-signed certificate that the side that says so does not"
                  + " trust.",
              "If it is to be trusted, add it: symbolon truststore FILE --all --add --into"
                  + " TRUSTSTORE; otherwise configure the chain of the right authority.",
              "self-signed certificate",
              "self signed certificate"),
          of(
              "issuer-not-sent",
              "The side that says so can't lead its peer's certificate to somebody it trusts: the"
                  + " intermediate was not sent, or its root is not trusted.",
              "Rehearse it: "
                  + REHEARSE
                  + "; or see what a running server sends with symbolon probe HOST:PORT --trust FILE.",
              "unable to get local issuer certificate",
              "unable to get issuer certificate",
              "unable to verify the first certificate",
              "unable to verify leaf signature",
              "certificate signed by unknown authority"),
          of(
              "root-not-trusted",
              "The side that says so does not trust its peer's chain: no way leads from it to a"
                  + " certificate in its truststore. The intermediate may not have been sent, or the"
                  + " root is not in the truststore that is used.",
              "Rehearse it: "
                  + REHEARSE
                  + "; or see what a running server sends with symbolon probe HOST:PORT --trust FILE.",
              "unable to find valid certification path",
              "pkix path building failed",
              "path does not chain with any of the trust anchors",
              "no trusted certificate found",
              "trust anchor for certification path not found"),
          of(
              "peer-does-not-trust",
              "A certificate was refused: it is not trusted or not liked, or a client has shown none"
                  + " where one is required. The reason is in the log of the side that refused.",
              "Rehearse it with both sides' files: symbolon rehearse --server FILES --server-trust"
                  + " FILES --client FILES --client-trust FILES --host NAME.",
              "unknown_ca",
              "unknown ca",
              "alert number 48",
              "certificate_unknown",
              "certificate unknown",
              "alert number 46",
              "bad_certificate",
              "bad certificate",
              "alert number 42",
              "certificate verify failed"),
          of(
              "no-tls",
              "One side speaks TLS and the other something else, such as plain HTTP, on the same port.",
              "Check the port and whether TLS is switched on: symbolon probe HOST:PORT.",
              "unsupported or unrecognized ssl message",
              "not an ssl/tls record",
              "plaintext connection",
              "wrong version number",
              "http request",
              "plain http request was sent to https port",
              "client sent plain http request to https port",
              "record layer failure",
              "packet length too long"),
          of(
              "no-common-protocol",
              "Server and client have no protocol version in common.",
              "Switch TLS 1.2 or 1.3 on on both sides; see what the server takes with symbolon probe"
                  + " HOST:PORT.",
              "protocol_version",
              "protocol version",
              "unsupported protocol",
              "no appropriate protocol",
              "client requested protocol",
              "version too low",
              "alert number 70",
              "server selected protocol version",
              "no protocols available"),
          of(
              "host-unknown-to-server",
              "The server has no certificate for the name that the client asked for (SNI).",
              "See which it has with symbolon probe HOST:PORT --host NAME.",
              "unrecognized_name",
              "unrecognized name",
              "alert number 112"),
          of(
              "no-common-cipher-suite",
              "Server and client found no cipher suite in common. Often the server has no key that the"
                  + " client can use: its keystore holds no private key, or one of another kind (EC"
                  + " where the client takes only RSA).",
              "See what the server's keystore holds with symbolon survey FILE, and rehearse: "
                  + REHEARSE
                  + ".",
              "no cipher suites in common",
              "no shared cipher",
              "no available authentication scheme",
              "no suitable signature algorithm",
              "handshake_failure",
              "handshake failure",
              "alert number 40",
              "insufficient_security"),
          of(
              "closed-during-handshake",
              "The peer closed the connection in the middle of the handshake, without saying why.",
              "Look into the peer's log for the same moment; a keystore it could not open does this.",
              "remote host terminated the handshake",
              "ssl peer shut down incorrectly",
              "unexpected eof while reading",
              "ssl connection has been closed unexpectedly",
              "peer closed connection in ssl handshake",
              "connection reset by peer) while ssl handshaking"));

  private static KnownFailure of(String id, String statement, String remedy, String... phrases) {
    return new KnownFailure(id, List.of(phrases), statement, remedy);
  }

  /** The failure that a line tells of. */
  static Optional<KnownFailure> in(String line) {
    String lower = line.toLowerCase(Locale.ROOT);
    return ALL.stream()
        .filter(known -> known.phrases().stream().anyMatch(lower::contains))
        .findFirst();
  }

  Finding finding(String where) {
    return Finding.problem(id, where, statement, remedy);
  }

  /** The same, with the side that a line in a log shows: an alert came from the peer. */
  Finding finding(String where, String line) {
    String lower = line.toLowerCase(Locale.ROOT);
    boolean alert =
        List.of("received fatal alert", "ssl alert number", "tlsv1 alert", "sslv3 alert").stream()
            .anyMatch(lower::contains);
    return alert
        ? Finding.problem(
            id,
            where,
            statement
                + " It is the peer of whoever wrote this that says so, about what it was shown.",
            remedy)
        : finding(where);
  }
}
