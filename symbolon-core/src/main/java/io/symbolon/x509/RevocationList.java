package io.symbolon.x509;

import io.symbolon.Hex;
import io.symbolon.SymbolonException;
import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import java.math.BigInteger;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** A certificate revocation list (RFC 5280, 5.1): whose it is, how current, and what it revokes. */
public final class RevocationList {
  private final byte[] encoding;
  private final DistinguishedName issuer;
  private final Instant thisUpdate;
  private final Optional<Instant> nextUpdate;
  private final Optional<Element> revoked;
  private final Extensions extensions;
  private final SignatureAlgorithm algorithm;
  private final Element signed;
  private final Element signature;

  private RevocationList(byte[] encoding) {
    this.encoding = encoding;
    Cursor outer = Element.read(encoding).cursor(Tags.SEQUENCE);
    signed = outer.next(Tags.SEQUENCE);
    Cursor fields = signed.cursor();
    algorithm = SignatureAlgorithm.read(outer.next(Tags.SEQUENCE));
    signature = outer.next(Tags.BIT_STRING);
    outer.end();
    fields.nextIf(Tags.INTEGER);
    fields.next(Tags.SEQUENCE);
    issuer = DistinguishedName.read(fields.next()).checked();
    thisUpdate = fields.next().time();
    nextUpdate =
        fields.nextIs(Tags.UTC_TIME) || fields.nextIs(Tags.GENERALIZED_TIME)
            ? Optional.of(fields.next().time())
            : Optional.empty();
    revoked = fields.nextIf(Tags.SEQUENCE);
    extensions =
        fields
            .nextIf(Tags.context(0))
            .map(Element::only)
            .map(Extensions::read)
            .orElse(Extensions.none());
  }

  /**
   * A certificate that was revoked.
   *
   * @param serial its serial number
   * @param when when it was revoked
   * @param extensions why, where that is said
   */
  public record Revoked(BigInteger serial, Instant when, Extensions extensions) {}

  /**
   * The certificates that were revoked.
   *
   * @param most how many are read at the most
   * @throws SymbolonException if one of them can't be read
   */
  public List<Revoked> revoked(int most) {
    List<Revoked> read = new ArrayList<>();
    if (revoked.isPresent()) {
      Cursor cursor = revoked.get().cursor();
      while (cursor.hasNext() && read.size() < most) {
        Cursor entry = cursor.next().cursor(Tags.SEQUENCE);
        read.add(
            new Revoked(
                entry.next().integer(),
                entry.next().time(),
                entry.hasNext() ? Extensions.read(entry.next()) : Extensions.none()));
      }
    }
    return read;
  }

  /** How many certificates were revoked. */
  public int size() {
    int size = 0;
    if (revoked.isPresent()) {
      Cursor cursor = revoked.get().cursor();
      while (cursor.hasNext()) {
        cursor.skip();
        size++;
      }
    }
    return size;
  }

  /** The extensions of the list itself. */
  public Extensions extensions() {
    return extensions;
  }

  /** The algorithm of its signature. */
  public SignatureAlgorithm signatureAlgorithm() {
    return algorithm;
  }

  /**
   * Reads a revocation list.
   *
   * @throws SymbolonException if it is none
   */
  public static RevocationList read(byte[] der) {
    return new RevocationList(der.clone());
  }

  /** The whole encoding: a copy. */
  public byte[] encoding() {
    return encoding.clone();
  }

  /** The SHA-256 fingerprint in hexadecimal. */
  public String sha256() {
    return Hex.sha256(encoding);
  }

  /** Who issued it. */
  public DistinguishedName issuer() {
    return issuer;
  }

  /** Whether an authority's key signed it. */
  public SignatureAlgorithm.Verdict verify(Certificate authority) {
    try {
      return algorithm.verify(
          signed.encoding(), signature.bitOctets(), authority.publicKey().toPublicKey());
    } catch (SymbolonException e) {
      return SignatureAlgorithm.Verdict.NOT_CHECKED;
    }
  }

  /** When it was issued. */
  public Instant thisUpdate() {
    return thisUpdate;
  }

  /** When the next one is due. */
  public Optional<Instant> nextUpdate() {
    return nextUpdate;
  }
}
