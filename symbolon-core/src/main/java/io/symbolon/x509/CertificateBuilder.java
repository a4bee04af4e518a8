// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import java.math.BigInteger;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Set;

/**
 * Builds and signs a certificate (RFC 5280, 4.1). Both key identifiers are always there. Not
 * thread-safe.
 */
public final class CertificateBuilder {
  private static final int SERIAL_BITS = 159; // positive in 20 octets: RFC 5280, 4.1.2.2

  private final DistinguishedName subject;
  private final SubjectPublicKeyInfo publicKey;
  private final Map<Oid, Extension> extensions = new LinkedHashMap<>();
  private Instant notBefore = Instant.EPOCH;
  private Instant notAfter = Instant.EPOCH;
  private BigInteger serial = BigInteger.ZERO;

  private CertificateBuilder(DistinguishedName subject, SubjectPublicKeyInfo publicKey) {
    this.subject = subject;
    this.publicKey = publicKey;
  }

  /** {@return a certificate for a subject and its public key} */
  public static CertificateBuilder of(DistinguishedName subject, SubjectPublicKeyInfo publicKey) {
    return new CertificateBuilder(subject, publicKey);
  }

  /**
   * When it is valid, in whole seconds, both ends included.
   *
   * @param notBefore the first moment of its validity
   * @param notAfter the last moment of its validity
   * @return the certificate builder
   */
  public CertificateBuilder validity(Instant notBefore, Instant notAfter) {
    if (!notBefore.isBefore(notAfter)) {
      throw new IllegalArgumentException("valid from " + notBefore + " until " + notAfter);
    }
    this.notBefore = notBefore;
    this.notAfter = notAfter;
    return this;
  }

  /**
   * {@return the serial number; where none is set, {@link #sign} draws one of 159 random bits}
   *
   * @param serial the serial number
   */
  public CertificateBuilder serial(BigInteger serial) {
    if (serial.signum() <= 0 || serial.bitLength() > SERIAL_BITS) {
      throw new IllegalArgumentException("a serial number is positive and has at most 159 bits");
    }
    this.serial = serial;
    return this;
  }

  /**
   * {@return an authority's certificate, which may have this many intermediates below it}
   *
   * @param pathLength how many intermediates may follow; empty for any number
   */
  public CertificateBuilder authority(OptionalInt pathLength) {
    add(new BasicConstraints(true, pathLength).toExtension());
    return keyUsage(EnumSet.of(KeyUsage.CERTIFICATE_SIGNING, KeyUsage.CRL_SIGNING));
  }

  /** {@return an end-entity certificate} */
  public CertificateBuilder endEntity() {
    return add(new BasicConstraints(false, OptionalInt.empty()).toExtension());
  }

  /** {@return what the key may be used for} */
  public CertificateBuilder keyUsage(Set<KeyUsage> usages) {
    return add(KeyUsage.toExtension(usages));
  }

  /** {@return the purposes the key may be used for, such as {@link Oids#SERVER_AUTH}} */
  public CertificateBuilder extendedKeyUsage(Collection<Oid> usages) {
    return add(
        new Extension(
            Oids.EXT_KEY_USAGE, false, Der.sequence(usages.stream().map(Der::oid).toList())));
  }

  /**
   * {@return the subject alternative names; critical where the subject is empty (RFC 5280,
   * 4.2.1.6)}
   */
  public CertificateBuilder alternativeNames(Collection<GeneralName> names) {
    return names.isEmpty() ? this : add(GeneralName.toExtension(names, subject.isEmpty()));
  }

  /**
   * {@return the hosts that an authority may sign for; nothing is written where there is no
   * constraint}
   */
  public CertificateBuilder nameConstraints(NameConstraints constraints) {
    return constraints.isEmpty() ? this : add(constraints.toExtension());
  }

  /**
   * {@return a remark, which people and nobody else read}
   *
   * @param ascii the text in ASCII
   */
  public CertificateBuilder comment(String ascii) {
    return add(new Extension(Oids.NETSCAPE_COMMENT, false, Der.ia5(ascii)));
  }

  /** {@return any other extension, or another instead of one that is there} */
  public CertificateBuilder add(Extension extension) {
    extensions.put(extension.oid(), extension);
    return this;
  }

  /**
   * Signs it with its own key.
   *
   * @param random where random numbers come from
   * @return the certificate
   */
  public Certificate signSelf(PrivateKey key, SecureRandom random) {
    return sign(subject, KeyIdentifiers.of(publicKey), key, random);
  }

  /**
   * Signs it as the authority that {@code issuer} is the certificate of.
   *
   * @param issuer the issuer's certificate
   * @param issuerKey the issuer's key
   * @param random where random numbers come from
   * @return the certificate
   */
  public Certificate sign(Certificate issuer, PrivateKey issuerKey, SecureRandom random) {
    return sign(issuer.subject(), KeyIdentifiers.of(issuer), issuerKey, random);
  }

  private Certificate sign(
      DistinguishedName issuer, byte[] issuerKeyId, PrivateKey issuerKey, SecureRandom random) {
    if (serial.signum() == 0) {
      // All bits are random. One of fewer than half of them never comes, unless randomness is
      // broken.
      do {
        serial = new BigInteger(SERIAL_BITS, random);
      } while (serial.bitLength() < SERIAL_BITS / 2);
    }
    SignatureAlgorithm algorithm = SignatureAlgorithm.forKey(issuerKey);
    Extension authorityKey =
        new Extension(
            Oids.AUTHORITY_KEY_ID, false, Der.sequence(Der.contextPrimitive(0, issuerKeyId)));
    Extension subjectKey =
        new Extension(Oids.SUBJECT_KEY_ID, false, Der.octets(KeyIdentifiers.of(publicKey)));
    List<Extension> all = new ArrayList<>(extensions.values());
    all.add(subjectKey);
    all.add(authorityKey);
    byte[] tbs =
        Der.sequence(
            Der.context(0, Der.integer(2)),
            Der.integer(serial),
            algorithm.encoding(),
            issuer.encoding(),
            Der.sequence(Der.time(notBefore), Der.time(notAfter)),
            subject.encoding(),
            publicKey.encoding(),
            Der.context(3, Extensions.of(all).encoding()));
    byte[] signature = algorithm.sign(tbs, issuerKey);
    return Certificate.read(Der.sequence(tbs, algorithm.encoding(), Der.bits(signature)));
  }
}
