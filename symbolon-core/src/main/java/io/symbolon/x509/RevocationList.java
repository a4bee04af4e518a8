// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.Hex;
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
    Element algorithmElement = outer.next(Tags.SEQUENCE);
    algorithm = SignatureAlgorithm.read(algorithmElement);
    signature = outer.next(Tags.BIT_STRING);
    outer.end();
    Optional<Element> version = fields.nextIf(Tags.INTEGER);
    if (version.filter(number -> number.smallInteger() != 1).isPresent()) {
      throw SymbolonException.malformed("revocation list", "Its version is unknown.");
    }
    if (!fields.next(Tags.SEQUENCE).sameEncoding(algorithmElement)) {
      throw SymbolonException.malformed(
          "revocation list", "It names two different signature algorithms, inside and outside.");
    }
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
    fields.end();
    if (version.isEmpty() && !extensions.isEmpty()) {
      throw SymbolonException.malformed(
          "revocation list", "It has extensions, which only version 2 may have.");
    }
  }

  /**
   * A certificate that was revoked.
   *
   * @param serial its serial number
   * @param when when it was revoked
   * @param extensions why, where that is said
   */
  public record RevokedEntry(BigInteger serial, Instant when, Extensions extensions) {}

  /**
   * {@return the certificates that were revoked}
   *
   * @param most how many are read at the most
   * @throws SymbolonException if one of them can't be read
   */
  public List<RevokedEntry> revoked(int most) {
    List<RevokedEntry> read = new ArrayList<>();
    if (revoked.isPresent()) {
      Cursor cursor = revoked.get().cursor();
      while (cursor.hasNext() && read.size() < most) {
        Cursor entry = cursor.next().cursor(Tags.SEQUENCE);
        read.add(
            new RevokedEntry(
                entry.next().integer(),
                entry.next().time(),
                entry.hasNext() ? Extensions.read(entry.next()) : Extensions.none()));
      }
    }
    return read;
  }

  /**
   * {@return what the list says of a certificate, however long it is: entry after entry is looked
   * at, and none is kept}
   *
   * @param serial the serial number
   * @param issuer who issued the certificate; entries of an indirect list are about the
   *     certificates of the issuer that was named last
   * @throws SymbolonException if an entry can't be read, or has a critical extension that is not
   *     known: then nothing that the list says counts
   */
  public Optional<RevokedEntry> find(BigInteger serial, DistinguishedName issuer) {
    if (revoked.isEmpty()) {
      return Optional.empty();
    }
    boolean indirect = extensions.listScope().filter(ListScope::indirect).isPresent();
    DistinguishedName about = this.issuer;
    Optional<RevokedEntry> found = Optional.empty();
    Cursor cursor = revoked.get().cursor();
    while (cursor.hasNext()) {
      Cursor entry = cursor.next().cursor(Tags.SEQUENCE);
      BigInteger number = entry.next().integer();
      Instant when = entry.next().time();
      if (!entry.hasNext() && (found.isPresent() || !number.equals(serial))) {
        continue;
      }
      Extensions more = entry.hasNext() ? Extensions.read(entry.next()) : Extensions.none();
      if (!more.isEmpty()) {
        checkEntry(more);
        if (indirect) {
          about = more.certificateIssuer().orElse(about);
        }
      }
      if (found.isEmpty() && number.equals(serial) && about.equals(issuer)) {
        found = Optional.of(new RevokedEntry(number, when, more));
      }
    }
    return found;
  }

  private void checkEntry(Extensions entry) {
    boolean indirect = extensions.listScope().filter(ListScope::indirect).isPresent();
    for (Extension extension : entry.all()) {
      boolean known =
          extension.oid().equals(Oids.CRL_REASON)
              || extension.oid().equals(Oids.INVALIDITY_DATE)
              || (indirect && extension.oid().equals(Oids.CERTIFICATE_ISSUER));
      if (extension.critical() && !known) {
        throw SymbolonException.malformed(
            "revocation list",
            "An entry has the critical extension "
                + Oids.nameOrDotted(extension.oid())
                + ", which is not known here.");
      }
    }
  }

  /** {@return how many certificates were revoked} */
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

  /** {@return the extensions of the list itself} */
  public Extensions extensions() {
    return extensions;
  }

  /** {@return the algorithm of its signature} */
  public SignatureAlgorithm signatureAlgorithm() {
    return algorithm;
  }

  /**
   * Reads a revocation list.
   *
   * @param der the encoding in DER
   * @return the revocation list
   * @throws SymbolonException if it is none
   */
  public static RevocationList read(byte[] der) {
    return new RevocationList(der.clone());
  }

  /** {@return the whole encoding: a copy} */
  public byte[] encoding() {
    return encoding.clone();
  }

  /** {@return the SHA-256 fingerprint in hexadecimal} */
  public String sha256() {
    return Hex.sha256(encoding);
  }

  /** {@return who issued it} */
  public DistinguishedName issuer() {
    return issuer;
  }

  /**
   * {@return whether an authority's key signed it}
   *
   * @param authority the authority's certificate
   */
  public SignatureAlgorithm.Validity verify(Certificate authority) {
    try {
      return algorithm.verify(
          signed.encoding(), signature.bitOctets(), authority.publicKey().toPublicKey());
    } catch (SymbolonException e) {
      return SignatureAlgorithm.Validity.NOT_CHECKED;
    }
  }

  /**
   * When it was issued.
   *
   * @return the instant
   */
  public Instant thisUpdate() {
    return thisUpdate;
  }

  /**
   * When the next one is due.
   *
   * @return nothing where there is none
   */
  public Optional<Instant> nextUpdate() {
    return nextUpdate;
  }
}
