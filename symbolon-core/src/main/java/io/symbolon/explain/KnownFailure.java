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

/**
 * What a failure means, on which side, and what mends it. The words by which it is known are in
 * {@link FailureWords}.
 *
 * @param kind the kind of finding
 * @param statement what happened, and on which side
 * @param remedy what mends it
 */
record KnownFailure(FindingKind kind, String statement, Remedy remedy) {
  private static final Action REHEARSAL =
      Action.of(Task.REHEARSE).with(Input.SERVER).with(Input.CLIENT_TRUST).with(Input.HOST);
  private static final Action PROBE = Action.of(Task.PROBE);
  private static final Action SURVEY = Action.of(Task.SURVEY);
  private static final Action JOIN = Action.of(Task.JOIN);
  private static final Action NEW_REQUEST = Action.of(Task.REQUEST).with(Input.LIKE);

  private static final List<KnownFailure> ALL =
      List.of(
          of(
              FindingKind.PASSWORD_WRONG,
              "A keystore or key was not opened: its password is wrong, or the file is damaged.",
              Remedy.of(
                  "Find the right one, and correct it in the program's settings.",
                  SURVEY.with(Input.PASSWORD))),
          of(
              FindingKind.KEY_FILE_TOO_OPEN,
              "A program refuses a private key because others than its owner can read its file.",
              Remedy.of(
                  "Give the file to the program's own user and take the others' rights (mode 600). "
                      + "A survey says who can read it.",
                  SURVEY)),
          of(
              FindingKind.KEY_DOES_NOT_FIT,
              "A private key and the certificate that is used with it do not belong together: the"
                  + " server's; or the client's, where it is the server that says so.",
              Remedy.of(
                  "See which key belongs to which certificate, and join the right ones.",
                  SURVEY,
                  JOIN)),
          of(
              FindingKind.TRUST_EMPTY,
              "The truststore that this program uses holds no certificate that it trusts: it is"
                  + " empty, its entries lack the mark of trust, or another file is used than meant.",
              Remedy.of(
                  "Look what it holds, and make it anew as a truststore.",
                  SURVEY.with(Input.DETAILS),
                  Action.of(Task.TRUSTSTORE))),
          of(
              FindingKind.PEER_RULE_REFUSED,
              "The peer's certificate is trusted, but a rule for peers, which the line names, does not"
                  + " accept it.",
              Remedy.of(
                  "If the peer is to be let in, change the rule, or have a certificate issued that"
                      + " follows it.")),
          of(
              FindingKind.DEPTH_TOO_SMALL,
              "A server allows fewer certificates above a client's own than this client has.",
              Remedy.of(
                  "Let the server allow more: its setting of the depth, at least the number of"
                      + " intermediates and one for the root.",
                  SURVEY)),
          of(
              FindingKind.TOO_MUCH_SENT,
              "One side sends more certificates, or larger ones, than the other accepts.",
              Remedy.of(
                  "See what is in the chain; join it anew, so that only what leads to the root is "
                      + "sent.",
                  SURVEY,
                  JOIN)),
          of(
              FindingKind.REVOKED,
              "The peer's certificate is on a revocation list.",
              Remedy.of(
                  "Ask its authority why; if it was meant, have a new certificate issued for a new key.")),
          of(
              FindingKind.REVOCATION_LIST_EXPIRED,
              "The revocation list that this program checks clients with is too old, or that of an"
                  + " authority of the chain is missing: it refuses everybody.",
              Remedy.of(
                  "Write it anew, and give the lists of all authorities of the chain to the "
                      + "server.",
                  Action.of(Task.RENEW_REVOCATION_LIST).with(Input.AUTHORITY))),
          of(
              FindingKind.NOT_YET_VALID,
              "A certificate is not valid yet, or the clock of the machine that says so is behind.",
              Remedy.of(
                  "Compare the clocks of both machines first; then look at the validity.",
                  SURVEY.with(Input.DETAILS))),
          of(
              FindingKind.EXPIRED,
              "A certificate is expired, or the clock of the machine that says so is ahead.",
              Remedy.of("See which, and ask for a new one.", SURVEY, PROBE, NEW_REQUEST)),
          of(
              FindingKind.NO_ALTERNATIVE_NAMES,
              "The server's certificate has no subject alternative names; this client looks for the"
                  + " host there and nowhere else.",
              Remedy.of(
                  "Ask for a certificate with the name of the host.",
                  NEW_REQUEST.with(Input.HOST))),
          of(
              FindingKind.HOST_NOT_COVERED,
              "The server's certificate does not cover the name by which the client called it.",
              Remedy.of(
                  "See what it covers, and use one of those names; or ask for a certificate with "
                      + "this one.",
                  PROBE.with(Input.HOST),
                  NEW_REQUEST.with(Input.HOST))),
          of(
              FindingKind.WRONG_USE,
              "A certificate is used for what it is not for: a client's on a server, a server's on a"
                  + " client, or its key usage does not allow signing.",
              Remedy.of("Ask for one for the right use.", NEW_REQUEST.with(Input.USE))),
          of(
              FindingKind.PATH_TOO_LONG,
              "The chain has more intermediates than an authority in it allows.",
              Remedy.of(
                  "See it in the files; have the certificate issued by a higher authority.",
                  SURVEY)),
          of(
              FindingKind.ISSUER_IS_NO_AUTHORITY,
              "A certificate in the chain signed another without being an authority's.",
              Remedy.of(
                  "See it in the files, and join the chain of the right authority.", SURVEY, JOIN)),
          of(
              FindingKind.NAME_NOT_PERMITTED,
              "An authority of the chain may not sign for this host: its name constraints forbid it.",
              Remedy.of("Ask for a certificate without that name, or from another authority.")),
          of(
              FindingKind.UNKNOWN_CRITICAL_EXTENSION,
              "A certificate in the chain has an extension that is marked critical and that the side"
                  + " that says so does not know: it has to refuse the certificate.",
              Remedy.of(
                  "See which, and have the certificate issued again without it.",
                  SURVEY.with(Input.DETAILS))),
          of(
              FindingKind.REFUSED_BY_POLICY,
              "A key or a signature in the chain is too weak for the security policy of the side that"
                  + " says so.",
              Remedy.of("See which; make a new key and ask again.", SURVEY, NEW_REQUEST)),
          of(
              FindingKind.NO_CLIENT_CERTIFICATE,
              "The server requires a client's certificate and got none: the client has none, or none"
                  + " from an authority that the server names.",
              Remedy.of(
                  "Rehearse it.",
                  Action.of(Task.REHEARSE)
                      .with(Input.SERVER)
                      .with(Input.SERVER_TRUST)
                      .with(Input.CLIENT))),
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
                      .with(Input.INTO))),
          of(
              FindingKind.ISSUER_NOT_SENT,
              "The side that says so can't lead its peer's certificate to somebody it trusts: the"
                  + " intermediate was not sent, or its root is not trusted.",
              Remedy.of(
                  "Rehearse it, or see what a running server sends.",
                  REHEARSAL,
                  PROBE.with(Input.TRUST))),
          of(
              FindingKind.ROOT_NOT_TRUSTED,
              "The side that says so does not trust its peer's chain: no way leads from it to a"
                  + " certificate in its truststore. The intermediate may not have been sent, or the"
                  + " root is not in the truststore that is used.",
              Remedy.of(
                  "Rehearse it, or see what a running server sends.",
                  REHEARSAL,
                  PROBE.with(Input.TRUST))),
          of(
              FindingKind.PEER_DOES_NOT_TRUST,
              "A certificate was refused: it is not trusted or not liked, or a client has shown none"
                  + " where one is required. The reason is in the log of the side that refused.",
              Remedy.of(
                  "Rehearse it with both sides' files.",
                  REHEARSAL.with(Input.CLIENT).with(Input.SERVER_TRUST))),
          of(
              FindingKind.NO_TLS,
              "One side speaks TLS and the other something else, such as plain HTTP, on the same port.",
              Remedy.of("Check the port, and whether TLS is switched on.", PROBE)),
          of(
              FindingKind.NO_SWITCH_TO_TLS,
              "The service begins in clear text and does not switch to TLS: it was not set up for it, or"
                  + " it could not use its own key or certificate.",
              Remedy.of(
                  "Switch TLS on in the server's settings, and look into its log for its start.",
                  PROBE)),
          of(
              FindingKind.HANDSHAKE_STALLED,
              "The other side fell silent in the middle of the handshake. It may be a port that speaks"
                  + " something else, a firewall, or a server that is busy.",
              Remedy.of("See what answers at that port.", PROBE)),
          of(
              FindingKind.NO_COMMON_PROTOCOL,
              "Server and client have no protocol version in common.",
              Remedy.of(
                  "Switch TLS 1.2 or 1.3 on on both sides. A probe shows what the server takes.",
                  PROBE)),
          of(
              FindingKind.HOST_UNKNOWN_TO_SERVER,
              "The server has no certificate for the name that the client asked for (SNI).",
              Remedy.of("See which it has.", PROBE.with(Input.HOST))),
          of(
              FindingKind.NO_COMMON_CIPHER_SUITE,
              "Server and client found no cipher suite in common. Often the server has no key that the"
                  + " client can use: its keystore holds no private key, or one of another kind (EC"
                  + " where the client takes only RSA); or its key is of another kind than its"
                  + " certificate.",
              Remedy.of("See what the server's keystore holds, and rehearse.", SURVEY, REHEARSAL)),
          of(
              FindingKind.CLOSED_DURING_HANDSHAKE,
              "The peer closed the connection in the middle of the handshake, without saying why.",
              Remedy.of(
                  "Look into the peer's log for the same moment; a keystore it could not open does this.")),
          of(
              FindingKind.HANDSHAKE_FAILED,
              "The handshake failed, and the line does not say why. It may be: no client's certificate"
                  + " where one is required, or one that is refused; no cipher suite, no kind of key"
                  + " or no protocol version in common; a key that does not fit its certificate.",
              Remedy.of(
                  "Look into the log of the other side for the same moment, or rehearse it with both"
                      + " sides' files.",
                  REHEARSAL.with(Input.CLIENT).with(Input.SERVER_TRUST))));

  private static KnownFailure of(FindingKind kind, String statement, Remedy remedy) {
    return new KnownFailure(kind, statement, remedy);
  }

  /** The failure that a line tells of. */
  static Optional<KnownFailure> in(String line) {
    return FailureWords.in(line.toLowerCase(Locale.ROOT))
        .flatMap(FailureWords.Meaning::kind)
        .flatMap(KnownFailure::ofKind);
  }

  /** Whether a line is known to tell of no failure, whatever its words are. */
  static boolean isNothing(String line) {
    return FailureWords.in(line.toLowerCase(Locale.ROOT))
        .filter(meaning -> meaning.kind().isEmpty())
        .isPresent();
  }

  static Optional<KnownFailure> ofKind(FindingKind kind) {
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
