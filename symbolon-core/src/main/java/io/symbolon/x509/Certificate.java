// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.DatedCertificate;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.text.Hex;
import java.io.ByteArrayInputStream;
import java.math.BigInteger;
import java.security.PublicKey;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * A certificate (RFC 5280, 4.1), read by our own decoder. The structure is checked at once; names
 * and extensions are decoded when asked for, which makes telling certificates apart cheap.
 * Immutable; equal when the encodings are.
 */
public final class Certificate implements DatedCertificate {
  private final byte[] encoding;
  private final Element tbs;
  private final int version;
  private final BigInteger serial;
  private final SignatureAlgorithm algorithm;
  private final Element issuerElement;
  private final Element subjectElement;
  private final Instant notBefore;
  private final Instant notAfter;
  private final SubjectPublicKeyInfo publicKey;
  private final Optional<Element> extensionsElement;
  private final Element signature;
  private final boolean sameWriting;

  private int hash; // 0 until it is asked for; the same whoever computes it
  private volatile @org.jspecify.annotations.Nullable DistinguishedName subject;
  private volatile @org.jspecify.annotations.Nullable DistinguishedName issuer;
  private volatile @org.jspecify.annotations.Nullable Extensions extensions;
  private volatile @org.jspecify.annotations.Nullable String sha256;
  private volatile @org.jspecify.annotations.Nullable String keyId;
  private volatile @org.jspecify.annotations.Nullable Verified verified;
  private volatile @org.jspecify.annotations.Nullable X509Certificate platform;

  /** Which key was tried last, and what came of it: most certificates are tried with one alone. */
  private record Verified(SubjectPublicKeyInfo key, SignatureAlgorithm.Validity verdict) {}

  private Certificate(byte[] encoding) {
    this.encoding = encoding;
    Cursor outer = Element.read(encoding).cursor(Tags.SEQUENCE);
    tbs = outer.next(Tags.SEQUENCE);
    Element outerAlgorithm = outer.next(Tags.SEQUENCE);
    signature = outer.next(Tags.BIT_STRING);
    outer.end();

    Cursor fields = tbs.cursor();
    int number = fields.nextIf(Tags.context(0)).map(v -> v.only().smallInteger()).orElse(0);
    if (number < 0 || number > 2) {
      throw SymbolonException.malformed("certificate", "Its version is " + (number + 1L) + ".");
    }
    version = number + 1;
    serial = fields.next().integer();
    Element innerAlgorithm = fields.next(Tags.SEQUENCE);
    sameWriting = innerAlgorithm.sameEncoding(outerAlgorithm);
    algorithm = SignatureAlgorithm.read(outerAlgorithm);
    if (!sameWriting && !SignatureAlgorithm.sameButForNull(innerAlgorithm, outerAlgorithm)) {
      throw SymbolonException.malformed(
          "certificate", "It names two different signature algorithms, inside and outside.");
    }
    issuerElement = fields.next(Tags.SEQUENCE);
    Cursor validity = fields.next(Tags.SEQUENCE).cursor();
    notBefore = validity.next().time();
    notAfter = validity.next().time();
    validity.end();
    subjectElement = fields.next(Tags.SEQUENCE);
    publicKey = SubjectPublicKeyInfo.read(fields.next(Tags.SEQUENCE));
    fields.nextIf(Tags.contextPrimitive(1)); // unique identifiers, long out of use
    fields.nextIf(Tags.contextPrimitive(2));
    extensionsElement = fields.nextIf(Tags.context(3)).map(Element::only);
    fields.end();
  }

  /**
   * Reads a certificate.
   *
   * @param der its whole encoding, which is copied
   * @return the certificate
   * @throws SymbolonException if it is no certificate
   */
  public static Certificate read(byte[] der) {
    return new Certificate(der.clone());
  }

  /**
   * Reads a certificate to its last part. {@link #read} leaves names and extensions until they are
   * asked for, and their faults as well; here they are found at once.
   *
   * @param der its whole encoding, which is copied
   * @return the certificate
   * @throws SymbolonException if it is no certificate, or a part of it is damaged
   */
  public static Certificate readWhole(byte[] der) {
    Certificate certificate = read(der);
    certificate.subject().parts();
    certificate.issuer().parts();
    certificate.extensions();
    return certificate;
  }

  /** {@return a platform's certificate} */
  public static Certificate of(java.security.cert.Certificate certificate) {
    try {
      return new Certificate(certificate.getEncoded());
    } catch (java.security.cert.CertificateEncodingException e) {
      throw SymbolonException.malformed("certificate", e);
    }
  }

  /** {@return the whole encoding: a copy} */
  public byte[] encoding() {
    return encoding.clone();
  }

  /** {@return the number of octets of the encoding} */
  public int length() {
    return encoding.length;
  }

  /** The SHA-256 fingerprint in hexadecimal. */
  @Override
  public String sha256() {
    String known = sha256;
    if (known == null) {
      known = Hex.sha256(encoding);
      sha256 = known;
    }
    return known;
  }

  /** {@return whose certificate it is} */
  public DistinguishedName subject() {
    DistinguishedName known = subject;
    if (known == null) {
      known = DistinguishedName.read(subjectElement);
      subject = known;
    }
    return known;
  }

  /** {@return who signed it} */
  public DistinguishedName issuer() {
    DistinguishedName known = issuer;
    if (known == null) {
      known = DistinguishedName.read(issuerElement);
      issuer = known;
    }
    return known;
  }

  /** {@return the serial number} */
  public BigInteger serial() {
    return serial;
  }

  /** {@return the serial number in hexadecimal} */
  public String serialHex() {
    return serial.toString(16);
  }

  /** The first instant of validity. */
  @Override
  public Instant notBefore() {
    return notBefore;
  }

  /** The last instant of validity. */
  @Override
  public Instant notAfter() {
    return notAfter;
  }

  /** {@return the public key} */
  public SubjectPublicKeyInfo publicKey() {
    return publicKey;
  }

  /**
   * {@return what tells which private key belongs to it: see {@link SubjectPublicKeyInfo#keyId()}}
   */
  public String keyId() {
    String known = keyId;
    if (known == null) {
      known = publicKey.keyId();
      keyId = known;
    }
    return known;
  }

  /** {@return the algorithm it was signed with} */
  public SignatureAlgorithm signatureAlgorithm() {
    return algorithm;
  }

  /**
   * {@return where its encoding breaks the rules in a way that other programs let pass: each as a
   * sentence; nothing where it breaks none}
   */
  public List<String> encodingFaults() {
    return EncodingFaults.of(this, extensionsElement, sameWriting);
  }

  /** {@return the version: 1, 2 or 3} */
  public int version() {
    return version;
  }

  /** {@return the extensions} */
  public Extensions extensions() {
    Extensions known = extensions;
    if (known == null) {
      known = extensionsElement.map(Certificate::readExtensions).orElse(Extensions.none());
      extensions = known;
    }
    return known;
  }

  private static Extensions readExtensions(Element element) {
    return Extensions.read(element);
  }

  /** {@return the subject alternative names; empty where there are none} */
  public List<GeneralName> alternativeNames() {
    return extensions().subjectAlternativeNames();
  }

  /**
   * {@return whether it names itself as its issuer; whether it also signed itself is another
   * question}
   */
  public boolean isSelfIssued() {
    return subject().equals(issuer());
  }

  /**
   * {@return whether it was issued by its own key, as a root is. One that names itself as its
   * issuer need not be: an authority with a new key issues itself a certificate for the old one
   * (RFC 5280, 6.1), which is a link of the chain like any other}
   */
  public boolean isSelfSigned() {
    if (!isSelfIssued()) {
      return false;
    }
    Optional<byte[]> signer = keyIdentifier(Extensions::authorityKeyIdentifier);
    Optional<byte[]> own = keyIdentifier(Extensions::subjectKeyIdentifier);
    boolean named = signer.isPresent() && own.isPresent() && Arrays.equals(signer.get(), own.get());
    // Key identifiers are what its maker wrote: one that says less than the signature proves
    // nothing.
    return named || verify(this) != SignatureAlgorithm.Validity.INVALID;
  }

  private Optional<byte[]> keyIdentifier(Function<Extensions, Optional<byte[]>> which) {
    try {
      return which.apply(extensions());
    } catch (SymbolonException e) {
      return Optional.empty(); // its extensions can't be read
    }
  }

  /**
   * {@return whether it is an authority's: basic constraints say so, or it is a root from before
   * there were any (version 1, self-issued)}
   */
  public boolean isAuthority() {
    return extensions()
        .basicConstraints()
        .map(BasicConstraints::authority)
        .orElseGet(() -> extensionsElement.isEmpty() && isSelfIssued());
  }

  /**
   * {@return whether the holder of {@code issuerKey} signed it}
   *
   * @param issuerKey the issuer's key
   */
  public SignatureAlgorithm.Validity verify(PublicKey issuerKey) {
    try {
      return algorithm.verify(tbs.encoding(), signature.bitOctets(), issuerKey);
    } catch (SymbolonException e) {
      return SignatureAlgorithm.Validity.INVALID;
    }
  }

  /**
   * {@return whether the key of {@code issuer} signed it}
   *
   * @param issuer the issuer's certificate
   */
  public SignatureAlgorithm.Validity verify(Certificate issuer) {
    Verified known = verified;
    if (known == null || !known.key().equals(issuer.publicKey)) {
      known = new Verified(issuer.publicKey, tried(issuer));
      verified = known;
    }
    return known.verdict();
  }

  private SignatureAlgorithm.Validity tried(Certificate issuer) {
    PublicKey key;
    try {
      if (issuer.publicKey().flaw().isPresent()) {
        return SignatureAlgorithm.Validity.NOT_CHECKED;
      }
      key = issuer.publicKey().toPublicKey();
    } catch (SymbolonException e) {
      return SignatureAlgorithm.Validity.NOT_CHECKED;
    }
    return verify(key);
  }

  /**
   * The same certificate as the platform's object.
   *
   * @throws SymbolonException if the platform refuses it
   */
  @Override
  public X509Certificate toX509Certificate() {
    X509Certificate known = platform;
    if (known == null) {
      known = read();
      platform = known;
    }
    return known;
  }

  private X509Certificate read() {
    try {
      return (X509Certificate)
          CertificateFactory.getInstance("X.509")
              .generateCertificate(new ByteArrayInputStream(encoding));
    } catch (CertificateException e) {
      throw SymbolonException.malformed("certificate", e);
    }
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Certificate that && Arrays.equals(encoding, that.encoding);
  }

  @Override
  public int hashCode() {
    int known = hash;
    if (known == 0) {
      known = Arrays.hashCode(encoding);
      hash = known;
    }
    return known;
  }

  @Override
  public String toString() {
    return "Certificate(" + subject() + ")";
  }
}
