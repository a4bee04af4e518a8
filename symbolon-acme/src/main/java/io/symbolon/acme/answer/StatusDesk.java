// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority.Revocation;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.StatusAnswer;
import io.symbolon.x509.StatusAnswer.Refusal;
import io.symbolon.x509.StatusQuestion;
import io.symbolon.x509.StatusQuestion.CertificateId;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Answers whether certificates are revoked (RFC 6960), from what is on record at this moment. */
final class StatusDesk {
  /** How long an answer may be used: a revocation is known everywhere after that. */
  static final Duration HOLDS = Duration.ofHours(1);

  private static final Logger LOG = LoggerFactory.getLogger(StatusDesk.class);

  private final SigningAuthority signing;
  private final Clock clock;

  StatusDesk(SigningAuthority signing, Clock clock) {
    this.signing = signing;
    this.clock = clock;
  }

  byte[] answer(byte[] der) {
    StatusQuestion question;
    try {
      question = StatusQuestion.read(der);
    } catch (SymbolonException e) {
      return Refusal.MALFORMED.encoding();
    }
    AuthorityFolder folder = signing.folder();
    Certificate own = folder.certificate();
    if (!question.asked().stream().allMatch(one -> one.issuer().is(own))) {
      return Refusal.NOT_OURS.encoding();
    }
    try {
      Instant now = clock.instant();
      StatusAnswer answer = StatusAnswer.of(own, now, now.plus(HOLDS));
      for (CertificateId one : question.asked()) {
        Optional<Revocation> revoked = folder.revocation(one.serial());
        if (revoked.isPresent()) {
          answer.revoked(one, revoked.get().when(), revoked.get().reason());
        } else if (folder.issued(one.serial()).isPresent()) {
          answer.good(one);
        } else {
          answer.unknown(one);
        }
      }
      return answer.sign(question, signing.authority().credential().key().toPrivateKey());
    } catch (SymbolonException e) {
      LOG.warn("whether a certificate is revoked can't be answered: {}", e.seen());
      return Refusal.LATER.encoding();
    }
  }
}
