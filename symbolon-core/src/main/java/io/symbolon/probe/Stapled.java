// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import io.symbolon.x509.StatusResponse;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import javax.net.ssl.ExtendedSSLSession;
import javax.net.ssl.SSLSession;

/**
 * The status that a server sent along with its certificate (RFC 6066, 8): what it says, and whether
 * it can be believed.
 *
 * @param status what it says of the certificate; empty where it says nothing of it
 * @param thisUpdate since when that is known to be right
 * @param nextUpdate until when it may be used
 */
public record Stapled(
    Optional<StatusResponse.Status> status,
    Optional<Instant> thisUpdate,
    Optional<Instant> nextUpdate) {
  /** What the server sent with this session, with what is to be said of it. */
  static Optional<Stapled> of(
      Optional<SSLSession> session,
      List<Certificate> sent,
      Collection<Certificate> trusted,
      Instant now,
      String where,
      List<Finding> findings) {
    if (sent.isEmpty()
        || session.isEmpty()
        || !(session.get() instanceof ExtendedSSLSession extended)) {
      return Optional.empty();
    }
    List<byte[]> responses = extended.getStatusResponses();
    if (responses.isEmpty() || responses.get(0).length == 0) {
      return Optional.empty();
    }
    try {
      return Optional.of(
          judge(StatusResponse.read(responses.get(0)), sent, trusted, now, where, findings));
    } catch (SymbolonException e) {
      findings.add(wrong(FindingKind.STAPLED_DAMAGED, where, "can't be read. " + e.seen()));
      return Optional.of(nothing());
    }
  }

  private static Stapled nothing() {
    return new Stapled(Optional.empty(), Optional.empty(), Optional.empty());
  }

  private static Stapled judge(
      StatusResponse response,
      List<Certificate> sent,
      Collection<Certificate> trusted,
      Instant now,
      String where,
      List<Finding> findings) {
    if (!response.isAnswer()) {
      findings.add(
          wrong(
              FindingKind.STAPLED_ERROR,
              where,
              "is the error " + response.code() + " of the responder."));
      return nothing();
    }
    Certificate end = sent.get(0);
    Optional<Certificate> issuer =
        Stream.concat(sent.stream().skip(1), trusted.stream())
            .filter(one -> one.subject().equals(end.issuer()) && end.verify(one) == Validity.VALID)
            .findFirst();
    if (issuer.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.STAPLED_NOT_CHECKED,
              where,
              "The status that the server sends along was not checked: the certificate of "
                  + end.issuer()
                  + " is not there.",
              Remedy.of("Give it.", Action.again(Input.TRUST))));
      return nothing();
    }
    Optional<StatusResponse.Single> about = response.about(end, issuer.get());
    if (about.isEmpty()) {
      findings.add(wrong(FindingKind.STAPLED_OF_ANOTHER, where, "is about another certificate."));
      return nothing();
    }
    findings.addAll(said(about.get(), response.verify(issuer.get()), now, where));
    return new Stapled(
        Optional.of(about.get().status()),
        Optional.of(about.get().thisUpdate()),
        about.get().nextUpdate());
  }

  private static List<Finding> said(
      StatusResponse.Single about, Validity signature, Instant now, String where) {
    List<Finding> findings = new ArrayList<>();
    if (signature == Validity.INVALID) {
      findings.add(
          wrong(
              FindingKind.STAPLED_SIGNATURE_WRONG,
              where,
              "is not signed by the authority, nor by somebody it has charged with that."));
    } else if (signature == Validity.NOT_CHECKED) {
      findings.add(
          Finding.of(
              FindingKind.STAPLED_NOT_CHECKED,
              where,
              "The signature of the status that the server sends along can't be checked by this"
                  + " Java.",
              ""));
    }
    if (about.nextUpdate().filter(now::isAfter).isPresent()) {
      findings.add(
          wrong(
              FindingKind.STAPLED_EXPIRED,
              where,
              "was to be used until " + about.nextUpdate().get() + "."));
    }
    switch (about.status()) {
      case REVOKED ->
          findings.add(
              Finding.of(
                  FindingKind.REVOKED,
                  where,
                  "The server itself sends along that its certificate is revoked"
                      + about.revokedAt().map(at -> ", since " + at).orElse("")
                      + ".",
                  "Ask the authority why; if it was meant, have a new certificate issued for a new"
                      + " key."));
      case UNKNOWN ->
          findings.add(
              wrong(
                  FindingKind.STAPLED_UNKNOWN, where, "says that the responder does not know it."));
      case GOOD -> {}
    }
    return findings;
  }

  private static Finding wrong(FindingKind kind, String where, String what) {
    return Finding.of(
        kind,
        where,
        "The status that the server sends along with its certificate " + what,
        "Let the server fetch it anew, or switch stapling off; look into its log why it has this"
            + " one.");
  }
}
