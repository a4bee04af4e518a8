// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.text.Hex;
import java.util.Optional;

/** A certificate signing request (RFC 2986, 4). */
public final class CertificateRequest {
  private final byte[] encoding;
  private final Element info;
  private final DistinguishedName subject;
  private final SubjectPublicKeyInfo publicKey;
  private final Extensions extensions;
  private final SignatureAlgorithm algorithm;
  private final Element signature;

  private CertificateRequest(byte[] encoding) {
    this.encoding = encoding;
    Cursor outer = Element.read(encoding).cursor(Tags.SEQUENCE);
    info = outer.next(Tags.SEQUENCE);
    algorithm = SignatureAlgorithm.read(outer.next());
    signature = outer.next(Tags.BIT_STRING);
    outer.end();
    Cursor fields = info.cursor();
    int version = fields.next().smallInteger();
    if (version != 0) {
      throw SymbolonException.malformed("request", "Its version is " + (version + 1L) + ".");
    }
    subject = DistinguishedName.read(fields.next()).checked();
    publicKey = SubjectPublicKeyInfo.read(fields.next());
    extensions =
        fields.nextIf(Tags.context(0)).flatMap(CertificateRequest::asked).orElse(Extensions.none());
  }

  private static Optional<Extensions> asked(Element attributes) {
    Cursor cursor = attributes.cursor();
    while (cursor.hasNext()) {
      Cursor attribute = cursor.next().cursor(Tags.SEQUENCE);
      if (attribute.next().isOid(Oids.EXTENSION_REQUEST)) {
        return Optional.of(Extensions.read(attribute.next().cursor(Tags.SET).next()));
      }
    }
    return Optional.empty();
  }

  /**
   * Reads a request.
   *
   * @param der the encoding in DER
   * @return the certificate request
   * @throws SymbolonException if it is none
   */
  public static CertificateRequest read(byte[] der) {
    return new CertificateRequest(der.clone());
  }

  /** {@return the whole encoding: a copy} */
  public byte[] encoding() {
    return encoding.clone();
  }

  /** {@return the SHA-256 fingerprint in hexadecimal} */
  public String sha256() {
    return Hex.sha256(encoding);
  }

  /**
   * For whom a certificate is asked.
   *
   * @return the distinguished name
   */
  public DistinguishedName subject() {
    return subject;
  }

  /**
   * For which key a certificate is asked.
   *
   * @return the subject public key info
   */
  public SubjectPublicKeyInfo publicKey() {
    return publicKey;
  }

  /** {@return the extensions that are asked for (RFC 2985, 5.4.2)} */
  public Extensions extensions() {
    return extensions;
  }

  /** {@return the algorithm of its signature} */
  public SignatureAlgorithm signatureAlgorithm() {
    return algorithm;
  }

  /** {@return whether it was signed by the key it is for} */
  public SignatureAlgorithm.Validity verify() {
    try {
      return algorithm.verify(info.encoding(), signature.bitOctets(), publicKey.toPublicKey());
    } catch (SymbolonException e) {
      return SignatureAlgorithm.Validity.NOT_CHECKED;
    }
  }
}
