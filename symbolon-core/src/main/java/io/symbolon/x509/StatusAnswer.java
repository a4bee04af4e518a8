// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Der;
import io.symbolon.oid.Oid;
import io.symbolon.x509.StatusQuestion.CertificateId;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.PrivateKey;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/**
 * What a responder answers about the revocation of certificates (RFC 6960, 4.2.1), signed by the
 * authority that issued them, so that whoever knows the authority needs no other certificate.
 */
public final class StatusAnswer {
  private static final Oid BASIC = Oid.of("1.3.6.1.5.5.7.48.1.1");

  private final Certificate issuer;
  private final Instant now;
  private final Instant until;
  private final List<byte[]> answers = new ArrayList<>();

  private StatusAnswer(Certificate issuer, Instant now, Instant until) {
    this.issuer = issuer;
    this.now = now;
    this.until = until;
  }

  /** Why there is no answer (RFC 6960, 4.2.1). */
  public enum Refusal {
    /** The question can't be read. */
    MALFORMED(1),
    /** Something is wrong here. */
    INTERNAL(2),
    /** Later it may be answered. */
    LATER(3),
    /** It is about certificates of somebody else (RFC 6960, 2.3). */
    NOT_OURS(6);

    private final int code;

    Refusal(int code) {
      this.code = code;
    }

    /** {@return its encoding, which nobody signs} */
    public byte[] encoding() {
      return Der.sequence(Der.enumerated(code));
    }
  }

  /**
   * {@return an answer about nothing yet}
   *
   * @param issuer the authority's certificate
   * @param now since when it is known to be right
   * @param until until when it may be used
   */
  public static StatusAnswer of(Certificate issuer, Instant now, Instant until) {
    return new StatusAnswer(issuer, now, until);
  }

  /**
   * Says that a certificate is on record and not revoked.
   *
   * @param id the certificate
   */
  public void good(CertificateId id) {
    add(id, Der.contextPrimitive(0, new byte[0]));
  }

  /**
   * Says that a certificate is revoked.
   *
   * @param id the certificate
   * @param when when it was
   * @param reason why; left out where it is unspecified
   */
  public void revoked(CertificateId id, Instant when, RevocationReason reason) {
    byte[] moment = Der.generalizedTime(when);
    add(
        id,
        reason == RevocationReason.UNSPECIFIED
            ? Der.context(1, moment)
            : Der.context(1, moment, Der.context(0, Der.enumerated(reason.code()))));
  }

  /**
   * Says that no such certificate is on record.
   *
   * @param id the certificate
   */
  public void unknown(CertificateId id) {
    add(id, Der.contextPrimitive(2, new byte[0]));
  }

  private void add(CertificateId id, byte[] status) {
    answers.add(
        Der.sequence(
            id.issuer().encoding(),
            status,
            Der.generalizedTime(now),
            Der.context(0, Der.generalizedTime(until))));
  }

  /**
   * Signs it.
   *
   * @param question the question that it answers
   * @param key the authority's key
   * @return its encoding
   */
  public byte[] sign(StatusQuestion question, PrivateKey key) {
    List<byte[]> fields = new ArrayList<>();
    fields.add(Der.context(2, Der.octets(keyHash())));
    fields.add(Der.generalizedTime(now));
    fields.add(Der.sequence(answers));
    question
        .nonce()
        .ifPresent(nonce -> fields.add(Der.context(1, Extensions.of(List.of(nonce)).encoding())));
    byte[] content = Der.sequence(fields);
    SignatureAlgorithm algorithm = SignatureAlgorithm.forKey(key);
    byte[] basic =
        Der.sequence(content, algorithm.encoding(), Der.bits(algorithm.sign(content, key)));
    return Der.sequence(
        Der.enumerated(0), Der.context(0, Der.sequence(Der.oid(BASIC), Der.octets(basic))));
  }

  /** Not for security: it names the key among those of the issuer (RFC 6960, 4.2.2.3). */
  private byte[] keyHash() {
    try {
      return MessageDigest.getInstance("SHA-1").digest(issuer.publicKey().keyOctets());
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-1", e);
    }
  }
}
