// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.math.BigInteger;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What somebody asks a responder about the revocation of certificates (RFC 6960, 4.1.1). Who asks,
 * and whether the question is signed, does not matter: the answer is public.
 */
public final class StatusQuestion {
  /** The extension that ties an answer to its question (RFC 9654). */
  static final Oid NONCE = Oid.of("1.3.6.1.5.5.7.48.1.2");

  /** The most certificates that one question may ask about. */
  public static final int MOST = 32;

  private static final int NONCE_OCTETS = 128; // RFC 9654, 2.1
  private static final Set<String> DIGESTS = Set.of("SHA-1", "SHA-256", "SHA-384", "SHA-512");

  private final List<CertificateId> asked;
  private final Optional<Extension> nonce;

  /**
   * A certificate, as a question names it: its issuer by two digests, and its serial number.
   *
   * @param serial the serial number
   */
  public record CertificateId(BigInteger serial, Issuer issuer) {}

  /** The issuer, as a question names it. */
  public static final class Issuer {
    private final Element element; // the whole name of the certificate, which the answer repeats
    private final Oid algorithm;
    private final byte[] name;
    private final byte[] key;

    private Issuer(Element element, Oid algorithm, byte[] name, byte[] key) {
      this.element = element;
      this.algorithm = algorithm;
      this.name = name;
      this.key = key;
    }

    byte[] encoding() {
      return element.encoding();
    }

    /**
     * {@return whether it is this one}
     *
     * @param issuer the issuer's certificate
     */
    public boolean is(Certificate issuer) {
      String digest = Oids.nameOrDotted(algorithm);
      if (!DIGESTS.contains(digest)) {
        return false;
      }
      try {
        MessageDigest sha = MessageDigest.getInstance(digest);
        return MessageDigest.isEqual(name, sha.digest(issuer.subject().encoding()))
            && MessageDigest.isEqual(key, sha.digest(issuer.publicKey().keyOctets()));
      } catch (NoSuchAlgorithmException e) {
        return false;
      }
    }
  }

  private StatusQuestion(byte[] encoding) {
    Cursor outer = Element.read(encoding).cursor(Tags.SEQUENCE);
    Cursor content = outer.next(Tags.SEQUENCE).cursor();
    outer.nextIf(Tags.context(0)); // a signature
    outer.end();
    Optional<Element> version = content.nextIf(Tags.context(0)).map(Element::only);
    if (version.filter(number -> number.smallInteger() != 0).isPresent()) {
      throw SymbolonException.malformed("status question", "Its version is unknown.");
    }
    content.nextIf(Tags.context(1)); // who asks
    Cursor each = content.next(Tags.SEQUENCE).cursor();
    List<CertificateId> read = new ArrayList<>();
    while (each.hasNext()) {
      if (read.size() == MOST) {
        throw SymbolonException.malformed(
            "status question", "It asks about more than " + MOST + " certificates.");
      }
      Cursor one = each.next().cursor(Tags.SEQUENCE);
      read.add(id(one.next(Tags.SEQUENCE)));
      one.nextIf(Tags.context(0)); // extensions that are about nothing we tell
      one.end();
    }
    if (read.isEmpty()) {
      throw SymbolonException.malformed("status question", "It asks about no certificate.");
    }
    asked = List.copyOf(read);
    Extensions extensions =
        content
            .nextIf(Tags.context(2))
            .map(Element::only)
            .map(Extensions::read)
            .orElse(Extensions.none());
    content.end();
    nonce =
        extensions
            .find(NONCE)
            .filter(one -> one.value().length > 0 && one.value().length <= NONCE_OCTETS + 4);
  }

  private static CertificateId id(Element element) {
    Cursor fields = element.cursor();
    Oid algorithm = fields.next(Tags.SEQUENCE).cursor().next().oid();
    byte[] name = fields.next(Tags.OCTET_STRING).octets();
    byte[] key = fields.next(Tags.OCTET_STRING).octets();
    BigInteger serial = fields.next(Tags.INTEGER).integer();
    fields.end();
    return new CertificateId(serial, new Issuer(element, algorithm, name, key));
  }

  /**
   * {@return the question}
   *
   * @param der its encoding
   * @throws SymbolonException if it can't be read, or asks about none or too many certificates
   */
  public static StatusQuestion read(byte[] der) {
    return new StatusQuestion(der);
  }

  /** {@return what it asks about, in its order} */
  public List<CertificateId> asked() {
    return asked;
  }

  /** {@return whether its answer must be made for it alone} */
  public boolean hasNonce() {
    return nonce.isPresent();
  }

  Optional<Extension> nonce() {
    return nonce;
  }
}
