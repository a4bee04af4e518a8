// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.x509.Certificate;
import java.time.Instant;
import java.util.Comparator;
import java.util.Optional;

/**
 * What has become of a request.
 *
 * @param state what has become of it
 * @param key the private key here that it belongs to
 * @param reply the certificate that answers it, or that takes its place
 */
public record RequestStatus(
    Holding.Request request, State state, Optional<Match> key, Optional<Certificate> reply) {
  /** What can become of a request. */
  public enum State {
    /** No certificate here answers it. */
    WAITING,
    /** A certificate here answers it. */
    ANSWERED,
    /** Its certificate is expired, or a later one with another key has taken its place. */
    SUPERSEDED
  }

  static RequestStatus of(
      Survey survey, CertificateIndex index, Holding.Request holding, Optional<Match> key) {
    String keyId = holding.request().publicKey().keyId();
    Optional<Certificate> reply =
        index.ofKey(keyId).stream().max(Comparator.comparing(Certificate::notBefore));
    if (reply.isEmpty()) {
      return new RequestStatus(holding, State.WAITING, key, Optional.empty());
    }
    Instant now = survey.now();
    Optional<Certificate> later =
        index.ofSubject(reply.get().subject()).stream()
            .filter(one -> !one.keyId().equals(keyId))
            .filter(one -> one.notBefore().isAfter(reply.get().notBefore()))
            .filter(one -> !now.isBefore(one.notBefore()))
            .max(Comparator.comparing(Certificate::notBefore));
    if (later.isPresent()) {
      return new RequestStatus(holding, State.SUPERSEDED, key, later);
    }
    return new RequestStatus(
        holding,
        now.isAfter(reply.get().notAfter()) ? State.SUPERSEDED : State.ANSWERED,
        key,
        reply);
  }
}
