// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.Hex;
import java.math.BigInteger;
import java.security.KeyPair;
import java.security.PrivateKey;
import java.security.spec.InvalidKeySpecException;
import java.security.spec.PKCS8EncodedKeySpec;
import java.util.Arrays;
import java.util.Optional;

/**
 * A private key, whatever form it came in, held as PrivateKeyInfo (RFC 5208, 5; RFC 5958, 2). Its
 * text form shows nothing of the key. {@link #close()} wipes it.
 */
public final class PrivateKeyInfo implements AutoCloseable {
  private final byte[] pkcs8;
  private final KeyForm form;
  private final KeyAlgorithm algorithm;
  private final Optional<SubjectPublicKeyInfo> publicHalf;

  private PrivateKeyInfo(
      byte[] pkcs8,
      KeyForm form,
      KeyAlgorithm algorithm,
      Optional<SubjectPublicKeyInfo> publicHalf) {
    this.pkcs8 = pkcs8;
    this.form = form;
    this.algorithm = algorithm;
    this.publicHalf = publicHalf;
  }

  /**
   * Reads a PrivateKeyInfo.
   *
   * @param der the encoding in DER
   * @return the private key info
   * @throws SymbolonException if it is none
   */
  public static PrivateKeyInfo readPkcs8(byte[] der) {
    return pkcs8(der.clone(), KeyForm.PKCS8);
  }

  /**
   * Reads an RSAPrivateKey of PKCS#1.
   *
   * @param der the encoding in DER
   * @return the private key info
   */
  public static PrivateKeyInfo readPkcs1(byte[] der) {
    RsaHalf.read(Element.read(der));
    return pkcs8(
        Der.sequence(
            Der.integer(0),
            new KeyAlgorithm(Oids.RSA, Optional.empty()).encoding(),
            Der.octets(der)),
        KeyForm.PKCS1);
  }

  /**
   * Reads an ECPrivateKey of SEC 1.
   *
   * @param der the encoding in DER
   * @return the private key info
   * @throws SymbolonException if it is none, or does not name its curve
   */
  public static PrivateKeyInfo readSec1(byte[] der) {
    Element key = Element.read(der);
    Optional<Element> parameters = EcPrivateKey.read(key).parameters();
    if (parameters.isEmpty()) {
      throw SymbolonException.malformed("EC private key", "It does not say on which curve it is.");
    }
    byte[] identifier = Der.sequence(Der.oid(Oids.EC), parameters.get().encoding());
    byte[] inner = EcPrivateKey.withoutParameters(key);
    try {
      return pkcs8(Der.sequence(Der.integer(0), identifier, Der.octets(inner)), KeyForm.SEC1);
    } finally {
      Arrays.fill(inner, (byte) 0);
    }
  }

  /**
   * Reads a DSA key in the form it had before PKCS#8: a zero, then the prime, the subprime, the
   * base, the public and the private number.
   *
   * @param der the encoding in DER
   * @return the private key info
   */
  public static PrivateKeyInfo readDsa(byte[] der) {
    Cursor cursor = Element.read(der).cursor(Tags.SEQUENCE);
    cursor.next().smallInteger();
    byte[] parameters =
        Der.sequence(
            Der.integer(cursor.next().integer()),
            Der.integer(cursor.next().integer()),
            Der.integer(cursor.next().integer()));
    byte[] identifier = Der.sequence(Der.oid(Oids.DSA), parameters);
    byte[] publicNumber = Der.integer(cursor.next().integer());
    byte[] privateNumber = Der.integer(cursor.next().integer());
    cursor.end();
    PrivateKeyInfo key =
        pkcs8(Der.sequence(Der.integer(0), identifier, Der.octets(privateNumber)), KeyForm.DSA);
    Arrays.fill(privateNumber, (byte) 0);
    return new PrivateKeyInfo(
        key.pkcs8,
        KeyForm.DSA,
        key.algorithm,
        Optional.of(SubjectPublicKeyInfo.ofBits(identifier, publicNumber)));
  }

  /**
   * {@return a platform's private key}
   *
   * @throws SymbolonException if the key does not give out its encoding, as one in hardware
   */
  public static PrivateKeyInfo of(PrivateKey key) {
    byte[] encoded = key.getEncoded();
    if (encoded == null) {
      throw new SymbolonException(
          io.symbolon.failure.Reason.UNSUPPORTED,
          "The private key can't be written.",
          "Its provider does not give it out, as hardware does not.",
          "Use the key where it is.");
    }
    return pkcs8(encoded, KeyForm.PKCS8);
  }

  /**
   * {@return the private key of a pair that the platform has made, with its public half where other
   * programs look for it}
   *
   * @throws SymbolonException if the key does not give out its encoding, as one in hardware
   */
  public static PrivateKeyInfo of(KeyPair pair) {
    return of(pair.getPrivate()).withPublicPoint(SubjectPublicKeyInfo.of(pair.getPublic()));
  }

  /**
   * An elliptic-curve key with its public point inside (RFC 5915, 3): programs on other libraries
   * can't use a key without it. Keys of other kinds, and those that have one, stay as they are.
   *
   * @param half the public half, which is known to be that of this key
   * @return the key
   */
  public PrivateKeyInfo withPublicPoint(SubjectPublicKeyInfo half) {
    if (!lacksPoint() || !half.algorithm().oid().equals(Oids.EC)) {
      return this;
    }
    Cursor cursor = Element.read(pkcs8).cursor(Tags.SEQUENCE);
    byte[] version = cursor.next().encoding();
    byte[] identifier = cursor.next().encoding();
    byte[] inner = EcPrivateKey.withPoint(cursor.next().octetsAsElement(), half.keyOctets());
    byte[] rest = cursor.hasNext() ? cursor.next().encoding() : new byte[0];
    byte[] more = cursor.hasNext() ? cursor.next().encoding() : new byte[0];
    try {
      return pkcs8(Der.sequence(version, identifier, Der.octets(inner), rest, more), form);
    } finally {
      Arrays.fill(inner, (byte) 0);
    }
  }

  /**
   * The same, with a public point that is computed.
   *
   * @return the key; as it is where this Java can't compute with it
   */
  public PrivateKeyInfo withPublicPoint() {
    return lacksPoint() ? computedPublicHalf().map(this::withPublicPoint).orElse(this) : this;
  }

  private boolean lacksPoint() {
    if (!algorithm.oid().equals(Oids.EC)) {
      return false;
    }
    Cursor cursor = Element.read(pkcs8).cursor(Tags.SEQUENCE);
    cursor.skip();
    cursor.skip();
    return EcPrivateKey.read(cursor.next().octetsAsElement()).publicPoint().isEmpty();
  }

  private static PrivateKeyInfo pkcs8(byte[] der, KeyForm form) {
    Cursor cursor = Element.read(der).cursor(Tags.SEQUENCE);
    int version = cursor.next().smallInteger();
    if (version != 0 && version != 1) {
      throw SymbolonException.malformed(
          "private key", "Its version is " + version + ", not 0 or 1.");
    }
    Element identifier = cursor.next(Tags.SEQUENCE);
    KeyAlgorithm algorithm = KeyAlgorithm.read(identifier);
    Element key = cursor.next(Tags.OCTET_STRING);
    if (key.length() == 0) {
      throw SymbolonException.malformed("private key", "There is no key in it.");
    }
    cursor.nextIf(Tags.context(0)); // attributes
    Optional<Element> publicBits = cursor.nextIf(Tags.contextPrimitive(1));
    cursor.end();
    byte[] identifierDer = identifier.encoding();
    Optional<SubjectPublicKeyInfo> publicHalf =
        publicBits.map(
            bits ->
                SubjectPublicKeyInfo.ofBits(identifierDer, bits.as(Tags.BIT_STRING).bitOctets()));
    if (publicHalf.isEmpty()) {
      publicHalf = inner(algorithm, identifierDer, key);
    }
    return new PrivateKeyInfo(der, form, algorithm, publicHalf);
  }

  /** The public half that the algorithm's own structure carries. */
  private static Optional<SubjectPublicKeyInfo> inner(
      KeyAlgorithm algorithm, byte[] identifier, Element key) {
    if (algorithm.oid().equals(Oids.RSA) || algorithm.oid().equals(Oids.RSA_PSS)) {
      RsaHalf half = RsaHalf.read(key.octetsAsElement());
      return Optional.of(SubjectPublicKeyInfo.rsa(identifier, half.modulus, half.exponent));
    }
    if (algorithm.oid().equals(Oids.EC)) {
      return EcPrivateKey.read(key.octetsAsElement())
          .publicPoint()
          .map(point -> SubjectPublicKeyInfo.ofBits(identifier, point));
    }
    return LatticeKey.kemPublicKey(algorithm.oid(), key)
        .map(half -> SubjectPublicKeyInfo.ofBits(identifier, half));
  }

  /** {@return the form it came in} */
  public KeyForm form() {
    return form;
  }

  /** {@return the algorithm} */
  public KeyAlgorithm algorithm() {
    return algorithm;
  }

  /**
   * {@return the public half, where the key's structure carries it: RSA always, EC mostly, others
   * seldom}
   */
  public Optional<SubjectPublicKeyInfo> publicHalf() {
    return publicHalf;
  }

  /**
   * {@return whether key and public key begin alike, as the halves of an ML-DSA key do: two keys
   * never share these 32 random octets} It proves nothing that a signature would not prove better.
   *
   * @param other another one
   */
  public boolean beginsAs(SubjectPublicKeyInfo other) {
    if (!algorithm.equals(other.algorithm())) {
      return false;
    }
    Cursor cursor = Element.read(pkcs8).cursor();
    cursor.skip();
    cursor.skip();
    return LatticeKey.dsaSeed(algorithm.oid(), cursor.next())
        .filter(seed -> Arrays.equals(seed, Arrays.copyOf(other.keyOctets(), seed.length)))
        .isPresent();
  }

  /**
   * {@return the public half, computed where the key's structure does not carry it: for keys on
   * elliptic curves that the platform computes with} Costs as much as making a key.
   */
  public Optional<SubjectPublicKeyInfo> computedPublicHalf() {
    return publicHalf.isPresent() ? publicHalf : PublicHalf.derive(this);
  }

  /**
   * Such as {@code RSA 2048} or {@code EC P-256}.
   *
   * @return the text
   */
  public String description() {
    return publicHalf.map(SubjectPublicKeyInfo::description).orElseGet(algorithm::toString);
  }

  /** {@return the key itself, as PKCS#8: a copy, which the caller wipes} */
  public byte[] revealPkcs8() {
    return pkcs8.clone();
  }

  /**
   * {@return whether the key can be written in a form}
   *
   * @param wanted what is wanted
   */
  public boolean fits(KeyForm wanted) {
    return switch (wanted) {
      case PKCS8 -> true;
      case PKCS1 -> algorithm.oid().equals(Oids.RSA);
      case SEC1 -> algorithm.oid().equals(Oids.EC);
      case DSA -> false;
    };
  }

  /**
   * {@return the key itself in a form of its algorithm: a copy, which the caller wipes}
   *
   * @param wanted what is wanted
   * @throws SymbolonException if keys of this algorithm have no such form
   */
  public byte[] reveal(KeyForm wanted) {
    if (!fits(wanted)) {
      throw new SymbolonException(
          io.symbolon.failure.Reason.INVALID_ARGUMENT,
          "The private key can't be written as " + wanted.title() + ".",
          "It is of the algorithm " + algorithm + ", which has no such form.",
          "Write it as PKCS#8, which takes every algorithm.");
    }
    if (wanted == KeyForm.PKCS8) {
      return revealPkcs8();
    }
    Cursor cursor = Element.read(pkcs8).cursor();
    cursor.skip();
    Element identifier = cursor.next();
    Element key = cursor.next();
    if (wanted == KeyForm.PKCS1) {
      return key.octets();
    }
    Cursor parameters = identifier.cursor();
    parameters.skip();
    return EcPrivateKey.withParameters(key.octetsAsElement(), parameters.next().encoding());
  }

  /**
   * {@return whether it carries attributes or a public half that only PKCS#8 can hold (RFC 5958,
   * 2)}
   */
  public boolean hasExtras() {
    Cursor cursor = Element.read(pkcs8).cursor();
    cursor.skip();
    cursor.skip();
    cursor.skip();
    return cursor.hasNext();
  }

  /**
   * {@return SHA-256 of the key's algorithm and octets, whatever attributes stand beside them and
   * whether or not the curve is named once more inside or the public point stands there: equal for
   * equal keys} For comparing in memory; it is never shown or written, since it could confirm a
   * guess at a weak key.
   */
  public String revealFingerprint() {
    byte[] core = core();
    try {
      return Hex.sha256(core);
    } finally {
      Arrays.fill(core, (byte) 0);
    }
  }

  private byte[] core() {
    if (!algorithm.oid().equals(Oids.EC)) {
      return asVersion0();
    }
    Cursor cursor = Element.read(pkcs8).cursor();
    cursor.skip();
    byte[] identifier = cursor.next().encoding();
    byte[] key = EcPrivateKey.numberAlone(cursor.next().octetsAsElement());
    byte[] core = Der.sequence(identifier, key);
    Arrays.fill(key, (byte) 0);
    return core;
  }

  /**
   * {@return the key as the platform's object}
   *
   * @throws SymbolonException if the platform has no such algorithm or refuses the key
   */
  public PrivateKey toPrivateKey() {
    byte[] copy = asVersion0();
    try {
      return algorithm.factory().generatePrivate(new PKCS8EncodedKeySpec(copy));
    } catch (InvalidKeySpecException e) {
      throw SymbolonException.malformed("private key", e);
    } finally {
      Arrays.fill(copy, (byte) 0);
    }
  }

  /** Without attributes and public half, which Java 17 refuses to see in an EdDSA key. */
  private byte[] asVersion0() {
    Cursor cursor = Element.read(pkcs8).cursor();
    cursor.skip();
    byte[] identifier = cursor.next().encoding();
    byte[] key = cursor.next().encoding();
    return Der.sequence(Der.integer(0), identifier, key);
  }

  @Override
  public void close() {
    Arrays.fill(pkcs8, (byte) 0);
  }

  @Override
  public String toString() {
    return "PrivateKeyInfo(" + description() + ")";
  }

  /** The public numbers inside an RSAPrivateKey (RFC 8017, A.1.2). */
  private record RsaHalf(BigInteger modulus, BigInteger exponent) {
    static RsaHalf read(Element rsaPrivateKey) {
      Cursor cursor = rsaPrivateKey.cursor(Tags.SEQUENCE);
      cursor.next().smallInteger();
      BigInteger modulus = cursor.next().unsigned();
      BigInteger exponent = cursor.next().unsigned();
      for (int i = 0; i < 6; i++) {
        cursor.next(Tags.INTEGER);
      }
      return new RsaHalf(modulus, exponent);
    }
  }
}
