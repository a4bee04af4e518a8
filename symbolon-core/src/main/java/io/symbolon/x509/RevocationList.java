package io.symbolon.x509;

import io.symbolon.Hex;
import io.symbolon.SymbolonException;
import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import java.time.Instant;
import java.util.Optional;

/** A certificate revocation list (RFC 5280, 5.1): whose it is and how current. */
public final class RevocationList {
  private final byte[] encoding;
  private final DistinguishedName issuer;
  private final Instant thisUpdate;
  private final Optional<Instant> nextUpdate;

  private RevocationList(byte[] encoding) {
    this.encoding = encoding;
    Cursor outer = Element.read(encoding).cursor(Tags.SEQUENCE);
    Cursor fields = outer.next(Tags.SEQUENCE).cursor();
    outer.next(Tags.SEQUENCE);
    outer.next(Tags.BIT_STRING);
    outer.end();
    fields.nextIf(Tags.INTEGER);
    fields.next(Tags.SEQUENCE);
    issuer = DistinguishedName.read(fields.next()).checked();
    thisUpdate = fields.next().time();
    nextUpdate =
        fields.nextIs(Tags.UTC_TIME) || fields.nextIs(Tags.GENERALIZED_TIME)
            ? Optional.of(fields.next().time())
            : Optional.empty();
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

  /** When it was issued. */
  public Instant thisUpdate() {
    return thisUpdate;
  }

  /** When the next one is due. */
  public Optional<Instant> nextUpdate() {
    return nextUpdate;
  }
}
