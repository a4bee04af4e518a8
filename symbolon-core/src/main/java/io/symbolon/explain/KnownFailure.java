// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * A failure as programs word it, and what it means. The table is asked from the top: what says more
 * stands before what says less.
 *
 * @param kind the kind of finding
 * @param phrases what programs write, in lower case; any of them is enough
 * @param statement what happened, and on which side
 * @param remedy what mends it
 */
record KnownFailure(FindingKind kind, List<String> phrases, String statement, Remedy remedy) {
  private static final Action REHEARSAL =
      Action.of(Task.REHEARSE).with(Input.SERVER).with(Input.CLIENT_TRUST).with(Input.HOST);
  private static final Action PROBE = Action.of(Task.PROBE);
  private static final Action SURVEY = Action.of(Task.SURVEY);
  private static final Action JOIN = Action.of(Task.JOIN);
  private static final Action NEW_REQUEST = Action.of(Task.REQUEST).with(Input.LIKE);

  /** A root that was sent and is not trusted: the certificate itself is not self-signed. */
  private static final List<String> IN_CHAIN =
      List.of(
          "self-signed certificate in certificate chain",
          "self signed certificate in certificate chain",
          "self_signed_cert_in_chain",
          "verify error:num=19");

  private static final List<KnownFailure> ALL =
      List.of(
          of(
              FindingKind.PASSWORD_WRONG,
              "A keystore or key was not opened: its password is wrong, or the file is damaged.",
              Remedy.of(
                  "Find the right one, and correct it in the program's settings.",
                  SURVEY.with(Input.PASSWORD)),
              "keystore password was incorrect",
              "keystore was tampered with",
              "failed pkcs12 integrity checking",
              "failed to decrypt safe contents",
              "get key failed: given final block not properly padded",
              "cannot recover key",
              "mac verify failure",
              "bad decrypt",
              "bad password read",
              "pkcs12 routines::mac"),
          of(
              FindingKind.KEY_FILE_TOO_OPEN,
              "A program refuses a private key because others than its owner can read its file.",
              Remedy.of(
                  "Give the file to the program's own user and take the others' rights (mode 600). "
                      + "A survey says who can read it.",
                  SURVEY),
              "has group or world access",
              "permissions should be u=rw (0600) or less"),
          of(
              FindingKind.KEY_DOES_NOT_FIT,
              "A private key and the certificate that is used with it do not belong together: the"
                  + " server's; or the client's, where it is the server that says so.",
              Remedy.of(
                  "See which key belongs to which certificate, and join the right ones.",
                  SURVEY,
                  JOIN),
              "key values mismatch",
              "inconsistencies between private key and certificate",
              "ah02565",
              "private key does not match",
              "key and certificate do not match",
              "does not match the certificate public key"),
          of(
              FindingKind.TRUST_EMPTY,
              "The truststore that this program uses holds no certificate that it trusts: it is"
                  + " empty, its entries lack the mark of trust, or another file is used than meant.",
              Remedy.of(
                  "Look what it holds, and make it anew as a truststore.",
                  SURVEY.with(Input.DETAILS),
                  Action.of(Task.TRUSTSTORE)),
              "the trustanchors parameter must be non-empty",
              "trustanchors parameter must be non-empty"),
          of(
              FindingKind.PEER_RULE_REFUSED,
              "The peer's certificate is trusted, but a rule for peers, which the line names, does not"
                  + " accept it.",
              Remedy.of(
                  "If the peer is to be let in, change the rule, or have a certificate issued that"
                      + " follows it."),
              "is refused by the rule"),
          of(
              FindingKind.DEPTH_TOO_SMALL,
              "A server allows fewer certificates above a client's own than this client has.",
              Remedy.of(
                  "Let the server allow more: its setting of the depth, at least the number of"
                      + " intermediates and one for the root.",
                  SURVEY),
              "maximum allowed are only"),
          of(
              FindingKind.TOO_MUCH_SENT,
              "One side sends more certificates, or larger ones, than the other accepts.",
              Remedy.of(
                  "See what is in the chain; join it anew, so that only what leads to the root is "
                      + "sent.",
                  SURVEY,
                  JOIN),
              "exceeds the maximum allowed size",
              "exceeds the maximum allowed length",
              "exceeded maximum certificate chain",
              "excessive message size",
              "certificate chain too long",
              "exceeds the maximum length"),
          of(
              FindingKind.REVOKED,
              "The peer's certificate is on a revocation list.",
              Remedy.of(
                  "Ask its authority why; if it was meant, have a new certificate issued for a new key."),
              "certificate has been revoked",
              "certificate revoked",
              "certificate_revoked",
              "alert number 44"),
          of(
              FindingKind.REVOCATION_LIST_EXPIRED,
              "The revocation list that this program checks clients with is too old, or that of an"
                  + " authority of the chain is missing: it refuses everybody.",
              Remedy.of(
                  "Write it anew, and give the lists of all authorities of the chain to the "
                      + "server.",
                  Action.of(Task.RENEW_REVOCATION_LIST).with(Input.AUTHORITY)),
              "crl has expired",
              "crl is expired",
              "crl expired",
              "crl is not yet valid",
              "crl_has_expired",
              "certificate crl",
              "unable to get certificate crl",
              "could not determine revocation status",
              "undetermined_revocation_status"),
          of(
              FindingKind.NOT_YET_VALID,
              "A certificate is not valid yet, or the clock of the machine that says so is behind.",
              Remedy.of(
                  "Compare the clocks of both machines first; then look at the validity.",
                  SURVEY.with(Input.DETAILS)),
              "certificatenotyetvalidexception",
              "certificate is not yet valid",
              "not yet valid",
              "certificatenotyetvalid"),
          of(
              FindingKind.EXPIRED,
              "A certificate is expired, or the clock of the machine that says so is ahead.",
              Remedy.of("See which, and ask for a new one.", SURVEY, PROBE, NEW_REQUEST),
              "certificateexpiredexception",
              "certificate has expired",
              "certificate_expired",
              "certificate expired",
              "alert number 45",
              "validity check failed"),
          of(
              FindingKind.NO_ALTERNATIVE_NAMES,
              "The server's certificate has no subject alternative names; this client looks for the"
                  + " host there and nowhere else.",
              Remedy.of(
                  "Ask for a certificate with the name of the host.", NEW_REQUEST.with(Input.HOST)),
              "no subject alternative names present",
              "no subject alternative names matching",
              "relies on legacy common name"),
          of(
              FindingKind.HOST_NOT_COVERED,
              "The server's certificate does not cover the name by which the client called it.",
              Remedy.of(
                  "See what it covers, and use one of those names; or ask for a certificate with "
                      + "this one.",
                  PROBE.with(Input.HOST),
                  NEW_REQUEST.with(Input.HOST)),
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
              FindingKind.WRONG_USE,
              "A certificate is used for what it is not for: a client's on a server, a server's on a"
                  + " client, or its key usage does not allow signing.",
              Remedy.of("Ask for one for the right use.", NEW_REQUEST.with(Input.USE)),
              "extended key usage does not permit",
              "extendedkeyusage",
              "unsupported certificate purpose",
              "unsuitable certificate purpose",
              "keyusage does not allow",
              "unsupported_certificate",
              "alert unsupported certificate",
              "alert number 43"),
          of(
              FindingKind.PATH_TOO_LONG,
              "The chain has more intermediates than an authority in it allows.",
              Remedy.of(
                  "See it in the files; have the certificate issued by a higher authority.",
                  SURVEY),
              "path length constraint",
              "pathlen constraint",
              "pathlength",
              "path length"),
          of(
              FindingKind.ISSUER_IS_NO_AUTHORITY,
              "A certificate in the chain signed another without being an authority's.",
              Remedy.of(
                  "See it in the files, and join the chain of the right authority.", SURVEY, JOIN),
              "basic constraints check failed",
              "not a ca certificate",
              "this is not a ca"),
          of(
              FindingKind.NAME_NOT_PERMITTED,
              "An authority of the chain may not sign for this host: its name constraints forbid it.",
              Remedy.of("Ask for a certificate without that name, or from another authority."),
              "name constraints check failed",
              "permitted subtree violation",
              "excluded subtree violation"),
          of(
              FindingKind.UNKNOWN_CRITICAL_EXTENSION,
              "A certificate in the chain has an extension that is marked critical and that the side"
                  + " that says so does not know: it has to refuse the certificate.",
              Remedy.of(
                  "See which, and have the certificate issued again without it.",
                  SURVEY.with(Input.DETAILS)),
              "unrecognized critical extension",
              "unhandled critical extension"),
          of(
              FindingKind.REFUSED_BY_POLICY,
              "A key or a signature in the chain is too weak for the security policy of the side that"
                  + " says so.",
              Remedy.of("See which; make a new key and ask again.", SURVEY, NEW_REQUEST),
              "algorithm constraints check failed",
              "does not conform to algorithm constraints",
              "algorithm constraint",
              "ee key too small",
              "ca key too small",
              "ca md too weak",
              "dh key too small",
              "disabled algorithm"),
          of(
              FindingKind.NO_CLIENT_CERTIFICATE,
              "The server requires a client's certificate and got none: the client has none, or none"
                  + " from an authority that the server names.",
              Remedy.of(
                  "Rehearse it.",
                  Action.of(Task.REHEARSE)
                      .with(Input.SERVER)
                      .with(Input.SERVER_TRUST)
                      .with(Input.CLIENT)),
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
              FindingKind.SELF_SIGNED_NOT_TRUSTED,
              "The peer's chain ends in a self-signed certificate that the side that says so does not"
                  + " trust.",
              Remedy.of(
                  "If it is to be trusted, add it; otherwise configure the chain of the right "
                      + "authority.",
                  Action.of(Task.TRUSTSTORE)
                      .with(Input.THEMSELVES)
                      .with(Input.ADD)
                      .with(Input.INTO)),
              "self-signed certificate",
              "self signed certificate"),
          of(
              FindingKind.ISSUER_NOT_SENT,
              "The side that says so can't lead its peer's certificate to somebody it trusts: the"
                  + " intermediate was not sent, or its root is not trusted.",
              Remedy.of(
                  "Rehearse it, or see what a running server sends.",
                  REHEARSAL,
                  PROBE.with(Input.TRUST)),
              "unable to get local issuer certificate",
              "unable to get issuer certificate",
              "unable to verify the first certificate",
              "unable to verify leaf signature"),
          of(
              FindingKind.ROOT_NOT_TRUSTED,
              "The side that says so does not trust its peer's chain: no way leads from it to a"
                  + " certificate in its truststore. The intermediate may not have been sent, or the"
                  + " root is not in the truststore that is used.",
              Remedy.of(
                  "Rehearse it, or see what a running server sends.",
                  REHEARSAL,
                  PROBE.with(Input.TRUST)),
              "unable to find valid certification path",
              "pkix path building failed",
              "path does not chain with any of the trust anchors",
              "no trusted certificate found",
              "trust anchor for certification path not found"),
          of(
              FindingKind.PEER_DOES_NOT_TRUST,
              "A certificate was refused: it is not trusted or not liked, or a client has shown none"
                  + " where one is required. The reason is in the log of the side that refused.",
              Remedy.of(
                  "Rehearse it with both sides' files.",
                  REHEARSAL.with(Input.CLIENT).with(Input.SERVER_TRUST)),
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
              FindingKind.NO_TLS,
              "One side speaks TLS and the other something else, such as plain HTTP, on the same port.",
              Remedy.of("Check the port, and whether TLS is switched on.", PROBE),
              "unsupported or unrecognized ssl message",
              "not an ssl/tls record",
              "plaintext connection",
              "wrong version number",
              ":http request",
              ": http request",
              "ssl (http request",
              "plain http request was sent to https port",
              "client sent plain http request to https port",
              "record layer failure",
              "packet length too long"),
          of(
              FindingKind.NO_SWITCH_TO_TLS,
              "The service begins in clear text and does not switch to TLS: it was not set up for it, or"
                  + " it could not use its own key or certificate.",
              Remedy.of(
                  "Switch TLS on in the server's settings, and look into its log for its start.",
                  PROBE),
              "server does not support ssl"),
          of(
              FindingKind.HANDSHAKE_STALLED,
              "The other side fell silent in the middle of the handshake. It may be a port that speaks"
                  + " something else, a firewall, or a server that is busy.",
              Remedy.of("See what answers at that port.", PROBE),
              "handshake timed out"),
          of(
              FindingKind.NO_COMMON_PROTOCOL,
              "Server and client have no protocol version in common.",
              Remedy.of(
                  "Switch TLS 1.2 or 1.3 on on both sides. A probe shows what the server takes.",
                  PROBE),
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
              FindingKind.HOST_UNKNOWN_TO_SERVER,
              "The server has no certificate for the name that the client asked for (SNI).",
              Remedy.of("See which it has.", PROBE.with(Input.HOST)),
              "unrecognized_name",
              "unrecognized name",
              "alert number 112"),
          of(
              FindingKind.NO_COMMON_CIPHER_SUITE,
              "Server and client found no cipher suite in common. Often the server has no key that the"
                  + " client can use: its keystore holds no private key, or one of another kind (EC"
                  + " where the client takes only RSA); or its key is of another kind than its"
                  + " certificate.",
              Remedy.of("See what the server's keystore holds, and rehearse.", SURVEY, REHEARSAL),
              "no cipher suites in common",
              "no shared cipher",
              "no available authentication scheme",
              "no suitable signature algorithm",
              "insufficient_security"),
          of(
              FindingKind.CLOSED_DURING_HANDSHAKE,
              "The peer closed the connection in the middle of the handshake, without saying why.",
              Remedy.of(
                  "Look into the peer's log for the same moment; a keystore it could not open does this."),
              "remote host terminated the handshake",
              "ssl peer shut down incorrectly",
              "unexpected eof while reading",
              "ssl connection has been closed unexpectedly",
              "peer closed connection in ssl handshake",
              "connection reset by peer) while ssl handshaking"),
          of(
              FindingKind.HANDSHAKE_FAILED,
              "The handshake failed, and the line does not say why. It may be: no client's certificate"
                  + " where one is required, or one that is refused; no cipher suite, no kind of key"
                  + " or no protocol version in common; a key that does not fit its certificate.",
              Remedy.of(
                  "Look into the log of the other side for the same moment, or rehearse it with both"
                      + " sides' files.",
                  REHEARSAL.with(Input.CLIENT).with(Input.SERVER_TRUST)),
              "handshake_failure",
              "handshake failure",
              "alert number 40"));

  /** What is said where the reason is not: words that tell more count before these. */
  private static final Set<FindingKind> GENERAL =
      Set.of(
          FindingKind.SERVER_FILES_NOT_USED,
          FindingKind.HANDSHAKE_FAILED,
          FindingKind.PEER_DOES_NOT_TRUST,
          FindingKind.CLOSED_DURING_HANDSHAKE);

  private static final WordSearch SEARCH =
      new WordSearch(ALL.stream().map(KnownFailure::phrases).toList());

  private static KnownFailure of(
      FindingKind kind, String statement, Remedy remedy, String... phrases) {
    return new KnownFailure(kind, List.of(phrases), statement, remedy);
  }

  /** The failure that a line tells of. */
  static Optional<KnownFailure> in(String line) {
    String lower = line.toLowerCase(Locale.ROOT);
    int first = SEARCH.first(lower);
    if (IN_CHAIN.stream().anyMatch(lower::contains)) {
      return ALL.stream().filter(known -> known.kind() == FindingKind.ROOT_NOT_TRUSTED).findFirst();
    }
    Optional<ProgramWords.Meaning> meaning = ProgramWords.in(lower);
    if (meaning.isPresent() && meaning.get().kind().isEmpty()) {
      return Optional.empty();
    }
    Optional<FindingKind> kind = meaning.flatMap(ProgramWords.Meaning::kind);
    if (kind.filter(one -> !GENERAL.contains(one)).isPresent()) {
      return kind.flatMap(KnownFailure::ofKind);
    }
    return StartFailures.in(lower)
        .or(() -> first < 0 ? Optional.empty() : Optional.of(ALL.get(first)))
        .or(() -> StartFailures.general(lower))
        .or(() -> kind.flatMap(KnownFailure::ofKind));
  }

  /** Whether a line is known to tell of no failure, whatever its words are. */
  static boolean isNothing(String line) {
    return ProgramWords.in(line.toLowerCase(Locale.ROOT))
        .filter(meaning -> meaning.kind().isEmpty())
        .isPresent();
  }

  private static Optional<KnownFailure> ofKind(FindingKind kind) {
    return ALL.stream()
        .filter(known -> known.kind() == kind)
        .findFirst()
        .or(() -> StartFailures.ofKind(kind));
  }

  Finding finding(String where) {
    return Finding.of(kind, where, statement, remedy);
  }

  /** The same, with the side that a line in a log shows: an alert came from the peer. */
  Finding finding(String where, String line) {
    String lower = line.toLowerCase(Locale.ROOT);
    boolean alert =
        List.of("received fatal alert", "ssl alert number", "tlsv1 alert", "sslv3 alert").stream()
            .anyMatch(lower::contains);
    return alert
        ? Finding.of(
            kind,
            where,
            statement
                + " It is the peer of whoever wrote this that says so, about what it was shown."
                + (kind == FindingKind.EXPIRED
                    ? " Some say the same of a revocation list that is too old."
                    : ""),
            remedy)
        : finding(where);
  }
}
