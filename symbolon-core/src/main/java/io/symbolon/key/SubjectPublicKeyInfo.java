// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.text.Hex;
import java.math.BigInteger;
import java.security.PublicKey;
import java.security.spec.InvalidKeySpecException;
import java.security.spec.X509EncodedKeySpec;
import java.util.Arrays;
import java.util.Optional;

/**
 * A public key with its algorithm (RFC 5280, 4.1.2.7). Equal when the encodings are; so is the
 * {@link #keyId()}, by which halves that belong together find each other.
 */
public final class SubjectPublicKeyInfo {
  private final Element element;
  private final KeyAlgorithm algorithm;

  private SubjectPublicKeyInfo(Element element, KeyAlgorithm algorithm) {
    this.element = element;
    this.algorithm = algorithm;
  }

  /**
   * {@return the public key that {@code element} encodes}
   *
   * @param element the encoded value
   * @throws SymbolonException if it is no SubjectPublicKeyInfo
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  public static SubjectPublicKeyInfo read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    KeyAlgorithm algorithm = KeyAlgorithm.read(cursor.next());
    Element bits = cursor.next(Tags.BIT_STRING);
    cursor.end();
    if (bits.length() < 2) {
      throw SymbolonException.malformed("public key", "It is empty.");
    }
    return new SubjectPublicKeyInfo(element, algorithm);
  }

  /**
   * {@return the same for a whole encoding}
   *
   * @param der the encoding in DER
   */
  public static SubjectPublicKeyInfo read(byte[] der) {
    return read(Element.read(der));
  }

  /** {@return a platform's public key} */
  public static SubjectPublicKeyInfo of(PublicKey key) {
    return read(key.getEncoded());
  }

  /**
   * {@return the key of a PKCS#1 RSAPublicKey (RFC 8017, A.1.1)}
   *
   * @param rsaPublicKey the RSAPublicKey
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  public static SubjectPublicKeyInfo ofRsaPublicKey(Element rsaPublicKey) {
    Cursor cursor = rsaPublicKey.cursor(Tags.SEQUENCE);
    BigInteger modulus = cursor.next().unsigned();
    BigInteger exponent = cursor.next().unsigned();
    return rsa(new KeyAlgorithm(Oids.RSA, Optional.empty()).encoding(), modulus, exponent);
  }

  static SubjectPublicKeyInfo rsa(
      byte[] algorithmIdentifier, BigInteger modulus, BigInteger exponent) {
    return read(
        Der.sequence(
            algorithmIdentifier,
            Der.bits(Der.sequence(Der.integer(modulus), Der.integer(exponent)))));
  }

  static SubjectPublicKeyInfo ofBits(byte[] algorithmIdentifier, byte[] octets) {
    return read(Der.sequence(algorithmIdentifier, Der.bits(octets)));
  }

  /** {@return the whole encoding: a copy} */
  public byte[] encoding() {
    return element.encoding();
  }

  /** {@return the algorithm} */
  public KeyAlgorithm algorithm() {
    return algorithm;
  }

  /**
   * {@return SHA-256 of the encoding in hexadecimal: equal for halves that belong together} A key
   * whose modulus lacks the zero in front counts as the one that has it.
   */
  public String keyId() {
    return Hex.sha256(hasNegativeModulus() ? regular().encoding() : encoding());
  }

  /**
   * {@return whether the modulus of an RSA key is written without the zero in front, as a negative
   * number}
   */
  public boolean hasNegativeModulus() {
    if (!algorithm.oid().equals(Oids.RSA)) {
      return false;
    }
    try {
      Cursor cursor = element.cursor();
      cursor.skip();
      return cursor.next().bitsAsElement().cursor(Tags.SEQUENCE).next(Tags.INTEGER).isNegative();
    } catch (SymbolonException e) {
      return false;
    }
  }

  private SubjectPublicKeyInfo regular() {
    Rsa numbers = rsa().orElseThrow();
    return rsa(element.cursor().next().encoding(), numbers.modulus(), numbers.exponent());
  }

  /**
   * {@return the octets of the key itself, which key identifiers are made of (RFC 5280, 4.2.1.2)}
   */
  public byte[] keyOctets() {
    Cursor cursor = element.cursor();
    cursor.skip();
    return cursor.next().bitOctets();
  }

  /** {@return the size of the key in bits, where the algorithm has one that varies} */
  public Optional<Integer> bits() {
    if (algorithm.oid().equals(Oids.RSA) || algorithm.oid().equals(Oids.RSA_PSS)) {
      Cursor cursor = element.cursor();
      cursor.skip();
      return Optional.of(
          cursor.next().bitsAsElement().cursor(Tags.SEQUENCE).next().unsigned().bitLength());
    }
    if (algorithm.oid().equals(Oids.DSA)) {
      Cursor identifier = element.cursor().next().cursor();
      identifier.skip();
      return identifier.hasNext()
          ? Optional.of(identifier.next().cursor(Tags.SEQUENCE).next().integer().bitLength())
          : Optional.empty();
    }
    return algorithm.curveBits();
  }

  /**
   * Such as {@code RSA 2048} or {@code EC P-256}.
   *
   * @return the text
   */
  public String description() {
    try {
      boolean sized = algorithm.curve().isEmpty();
      return algorithm + (sized ? bits().map(bits -> " " + bits).orElse("") : "");
    } catch (SymbolonException e) {
      return algorithm + " (damaged)";
    }
  }

  /** Modulus and exponent of an RSA key. */
  private record Rsa(BigInteger modulus, BigInteger exponent) {}

  private Optional<Rsa> rsa() {
    if (!algorithm.oid().equals(Oids.RSA) && !algorithm.oid().equals(Oids.RSA_PSS)) {
      return Optional.empty();
    }
    Cursor cursor = element.cursor();
    cursor.skip();
    Cursor numbers = cursor.next().bitsAsElement().cursor(Tags.SEQUENCE);
    return Optional.of(new Rsa(numbers.next().unsigned(), numbers.next().unsigned()));
  }

  /**
   * {@return why signatures of this key prove nothing, whoever made them, or can't be checked with
   * a reasonable effort; nothing where they can} What it finds is cheap to see.
   */
  public Optional<String> flaw() {
    Optional<Rsa> rsa;
    try {
      rsa = rsa();
    } catch (SymbolonException e) {
      return Optional.of("It can't be read.");
    }
    return rsa.flatMap(key -> RsaFlaws.ofVerifying(key.modulus(), key.exponent()));
  }

  /**
   * {@return what is wrong with the key itself, for an authority that is asked to sign it: the
   * flaws, and what the known cheap tests find} It takes some milliseconds.
   */
  public Optional<String> defect() {
    Optional<Rsa> rsa;
    try {
      rsa = rsa();
    } catch (SymbolonException e) {
      return Optional.of("It can't be read.");
    }
    return rsa.flatMap(key -> RsaFlaws.of(key.modulus(), key.exponent()));
  }

  /**
   * {@return whether the public exponent of an RSA key is so small that careless programs are
   * broken}
   */
  public boolean hasSmallExponent() {
    try {
      return rsa().filter(key -> key.exponent().bitLength() < 16).isPresent();
    } catch (SymbolonException e) {
      return false;
    }
  }

  /**
   * {@return what checking a signature costs on an ordinary processor, in microseconds: an
   * estimate}
   */
  public long verifyingCost() {
    try {
      Optional<Rsa> rsa = rsa();
      if (rsa.isPresent()) {
        double bits = rsa.get().modulus().bitLength();
        return (long) (10 + bits * bits * 1.5 * rsa.get().exponent().bitLength() / 2e6);
      }
    } catch (SymbolonException e) {
      return 1;
    }
    int bits = algorithm.curveBits().orElse(0);
    return bits > 400 ? 3000 : bits > 300 ? 1500 : bits > 0 ? 500 : 700;
  }

  /** {@return what making a signature and checking it costs, in microseconds: an estimate} */
  public long signingCost() {
    try {
      Optional<Rsa> rsa = rsa();
      if (rsa.isPresent()) {
        double bits = rsa.get().modulus().bitLength();
        return verifyingCost() + (long) (bits * bits * bits / 7e6);
      }
    } catch (SymbolonException e) {
      return 1;
    }
    return 2 * verifyingCost();
  }

  /** {@return why the key is too weak for today, or nothing where it is not} */
  public Optional<String> weakness() {
    Optional<Integer> bits;
    try {
      bits = bits();
    } catch (SymbolonException e) {
      return Optional.empty();
    }
    Optional<String> flaw = flaw();
    if (flaw.isPresent()) {
      return flaw;
    }
    int least =
        algorithm.oid().equals(Oids.EC)
            ? 224
            : algorithm.oid().equals(Oids.RSA)
                    || algorithm.oid().equals(Oids.RSA_PSS)
                    || algorithm.oid().equals(Oids.DSA)
                ? 2048
                : 0;
    return bits.filter(size -> size < least)
        .map(size -> "It has " + size + " bits; fewer than " + least + " are refused today.");
  }

  /**
   * {@return the key as the platform's object}
   *
   * @throws SymbolonException if the platform has no such algorithm or refuses the key
   */
  public PublicKey toPublicKey() {
    Optional<Integer> bits = bits();
    if (bits.isPresent() && bits.get() > Limits.RSA_BITS) {
      throw new SymbolonException(
          io.symbolon.failure.Reason.LIMIT_PASSED,
          "The public key can't be used.",
          "It has " + bits.get() + " bits; at most " + Limits.RSA_BITS + " are accepted.",
          "Ask for a certificate with a key of an ordinary size, such as RSA 3072.");
    }
    try {
      return algorithm.factory().generatePublic(new X509EncodedKeySpec(encoding()));
    } catch (InvalidKeySpecException e) {
      throw SymbolonException.malformed("public key", e);
    }
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof SubjectPublicKeyInfo that && element.sameEncoding(that.element);
  }

  @Override
  public int hashCode() {
    return Arrays.hashCode(encoding());
  }

  @Override
  public String toString() {
    return "SubjectPublicKeyInfo(" + description() + ")";
  }
}
