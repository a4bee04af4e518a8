// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import java.math.BigInteger;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * What a responder says about the revocation of certificates (RFC 6960, 4.2.1). A server may send
 * it along with its certificate.
 */
public final class StatusResponse {
  private static final Oid BASIC = Oid.of("1.3.6.1.5.5.7.48.1.1");

  private final int code;
  private final Instant producedAt;
  private final List<Single> all;
  private final Optional<Signed> signed;

  /** What a certificate is worth. */
  public enum Status {
    /** It is not revoked. */
    GOOD,
    /** It is revoked. */
    REVOKED,
    /** The responder does not know it. */
    UNKNOWN
  }

  /**
   * The answer about one certificate.
   *
   * @param serial its serial number
   * @param status what it is worth
   * @param thisUpdate since when the answer is known to be right
   * @param nextUpdate until when it may be used, where that is said
   * @param revokedAt when it was revoked, where it was
   */
  public record Single(
      BigInteger serial,
      Status status,
      Instant thisUpdate,
      Optional<Instant> nextUpdate,
      Optional<Instant> revokedAt,
      Issuer issuer) {}

  /** The digests by which an answer names the issuer of its certificate. */
  public static final class Issuer {
    private final String digest;
    private final byte[] name;
    private final byte[] key;

    private Issuer(String digest, byte[] name, byte[] key) {
      this.digest = digest;
      this.name = name;
      this.key = key;
    }

    /**
     * {@return whether it is this one}
     *
     * @param issuer the issuer's certificate
     */
    public boolean is(Certificate issuer) {
      try {
        MessageDigest sha = MessageDigest.getInstance(digest);
        return Arrays.equals(name, sha.digest(issuer.subject().encoding()))
            && Arrays.equals(key, sha.digest(issuer.publicKey().keyOctets()));
      } catch (NoSuchAlgorithmException e) {
        return false;
      }
    }
  }

  private record Signed(
      Element content,
      SignatureAlgorithm algorithm,
      Element signature,
      List<Certificate> certificates) {}

  private StatusResponse(byte[] encoding) {
    Cursor outer = Element.read(encoding).cursor(Tags.SEQUENCE);
    code = outer.next(Tags.ENUMERATED).as(Tags.INTEGER).smallInteger();
    Optional<Element> bytes = outer.nextIf(Tags.context(0)).map(Element::only);
    if (code != 0 || bytes.isEmpty()) {
      producedAt = Instant.EPOCH;
      all = List.of();
      signed = Optional.empty();
      return;
    }
    Cursor response = bytes.get().cursor(Tags.SEQUENCE);
    if (!response.next().oid().equals(BASIC)) {
      throw SymbolonException.malformed("status response", "It is of a type that is not known.");
    }
    Cursor basic = response.next(Tags.OCTET_STRING).octetsAsElement().cursor(Tags.SEQUENCE);
    Element content = basic.next(Tags.SEQUENCE);
    SignatureAlgorithm algorithm = SignatureAlgorithm.read(basic.next(Tags.SEQUENCE));
    Element signature = basic.next(Tags.BIT_STRING);
    List<Certificate> certificates = new ArrayList<>();
    Optional<Element> sent = basic.nextIf(Tags.context(0)).map(Element::only);
    if (sent.isPresent()) {
      Cursor each = sent.get().cursor(Tags.SEQUENCE);
      while (each.hasNext() && certificates.size() < Limits.STATUS_RESPONSES) {
        certificates.add(Certificate.read(each.next().encoding()));
      }
    }
    signed = Optional.of(new Signed(content, algorithm, signature, List.copyOf(certificates)));
    Cursor data = content.cursor();
    data.nextIf(Tags.context(0));
    data.skip(); // who responds: the signature tells
    producedAt = data.next(Tags.GENERALIZED_TIME).time();
    List<Single> read = new ArrayList<>();
    Cursor each = data.next(Tags.SEQUENCE).cursor();
    while (each.hasNext() && read.size() < Limits.STATUS_RESPONSES) {
      read.add(single(each.next().cursor(Tags.SEQUENCE)));
    }
    all = List.copyOf(read);
  }

  private static Single single(Cursor fields) {
    Cursor id = fields.next(Tags.SEQUENCE).cursor();
    String digest = Oids.nameOrDotted(id.next(Tags.SEQUENCE).cursor().next().oid());
    Issuer issuer = new Issuer(digest, id.next().octets(), id.next().octets());
    BigInteger serial = id.next().integer();
    Element said = fields.next();
    Status status;
    Optional<Instant> revokedAt = Optional.empty();
    if (said.is(Tags.contextPrimitive(0))) {
      status = Status.GOOD;
    } else if (said.is(Tags.context(1))) {
      status = Status.REVOKED;
      revokedAt = Optional.of(said.cursor().next(Tags.GENERALIZED_TIME).time());
    } else {
      status = Status.UNKNOWN;
    }
    Instant thisUpdate = fields.next(Tags.GENERALIZED_TIME).time();
    Optional<Instant> nextUpdate =
        fields.nextIf(Tags.context(0)).map(Element::only).map(Element::time);
    return new Single(serial, status, thisUpdate, nextUpdate, revokedAt, issuer);
  }

  /**
   * Reads a response.
   *
   * @param der its whole encoding, which is copied
   * @return the status response
   * @throws SymbolonException if it is none
   */
  public static StatusResponse read(byte[] der) {
    return new StatusResponse(der.clone());
  }

  /** {@return whether the responder answered at all, and not with an error} */
  public boolean isAnswer() {
    return code == 0 && signed.isPresent();
  }

  /** {@return the responder's error, from RFC 6960, 4.2.1; 0 where there is none} */
  public int code() {
    return code;
  }

  /**
   * When it was signed.
   *
   * @return the instant
   */
  public Instant producedAt() {
    return producedAt;
  }

  /** {@return what it says of each certificate that it speaks of} */
  public List<Single> all() {
    return all;
  }

  /**
   * {@return the answer about a certificate of an issuer}
   *
   * @param issuer the issuer's certificate
   */
  public Optional<Single> about(Certificate certificate, Certificate issuer) {
    return all.stream()
        .filter(one -> one.serial().equals(certificate.serial()) && one.issuer().is(issuer))
        .findFirst();
  }

  /**
   * {@return whether it is signed by the issuer of the certificates that it is about, or by
   * somebody whom that issuer has charged with it (RFC 6960, 4.2.2.2)}
   *
   * @param issuer the issuer's certificate
   */
  public SignatureAlgorithm.Validity verify(Certificate issuer) {
    if (signed.isEmpty()) {
      return SignatureAlgorithm.Validity.NOT_CHECKED;
    }
    SignatureAlgorithm.Validity own = verifiedBy(issuer);
    if (own == SignatureAlgorithm.Validity.VALID) {
      return own;
    }
    for (Certificate responder : signed.get().certificates()) {
      boolean charged =
          responder
                  .extensions()
                  .extendedKeyUsage()
                  .filter(u -> u.contains(Oids.OCSP_SIGNING))
                  .isPresent()
              && responder.verify(issuer) == SignatureAlgorithm.Validity.VALID;
      if (charged && verifiedBy(responder) == SignatureAlgorithm.Validity.VALID) {
        return SignatureAlgorithm.Validity.VALID;
      }
    }
    return own;
  }

  private SignatureAlgorithm.Validity verifiedBy(Certificate signer) {
    Signed all = signed.orElseThrow();
    try {
      return all.algorithm()
          .verify(
              all.content().encoding(),
              all.signature().bitOctets(),
              signer.publicKey().toPublicKey());
    } catch (SymbolonException e) {
      return SignatureAlgorithm.Validity.NOT_CHECKED;
    }
  }
}
