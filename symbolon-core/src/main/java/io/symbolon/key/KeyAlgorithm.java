// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.security.KeyFactory;
import java.security.NoSuchAlgorithmException;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The algorithm of a key: what an AlgorithmIdentifier says of it. Two are equal when the identifier
 * and the curve are.
 *
 * @param oid the algorithm
 * @param curve the named curve of an EC key
 */
public record KeyAlgorithm(Oid oid, Optional<Oid> curve) {
  // The names of curves carry their size: P-256, sect283k1, brainpoolP320r1.
  private static final Pattern SIZE = Pattern.compile("(\\d{3})");

  /**
   * {@return what an AlgorithmIdentifier (RFC 5280, 4.1.1.2) says}
   *
   * @param algorithmIdentifier the AlgorithmIdentifier
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  public static KeyAlgorithm read(Element algorithmIdentifier) {
    Cursor cursor = algorithmIdentifier.cursor(Tags.SEQUENCE);
    Oid oid = cursor.next().oid();
    if (oid.equals(Oids.EC) && cursor.nextIs(Tags.OID)) {
      return new KeyAlgorithm(oid, Optional.of(cursor.next().oid()));
    }
    return new KeyAlgorithm(oid, Optional.empty());
  }

  /**
   * EC on a named curve.
   *
   * @return the key algorithm
   */
  public static KeyAlgorithm ec(Oid curve) {
    return new KeyAlgorithm(Oids.EC, Optional.of(curve));
  }

  /** The AlgorithmIdentifier in DER, for algorithms without other parameters than a curve. */
  byte[] encoding() {
    if (curve.isPresent()) {
      return Der.sequence(Der.oid(oid), Der.oid(curve.get()));
    }
    return oid.equals(Oids.RSA)
        ? Der.sequence(Der.oid(oid), Der.nul())
        : Der.sequence(Der.oid(oid));
  }

  /** The platform's key factory for it. */
  KeyFactory factory() {
    try {
      return KeyFactory.getInstance(Oids.nameOrDotted(oid));
    } catch (NoSuchAlgorithmException e) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "The key can't be used.",
          "This Java has no algorithm " + this + ".",
          "Use a newer Java, or one that has it; files can still be converted.",
          e);
    }
  }

  /** {@return the bits of the curve, where it is a known one} */
  public Optional<Integer> curveBits() {
    return curve
        .flatMap(Oids::name)
        .map(SIZE::matcher)
        .filter(Matcher::find)
        .map(size -> Integer.parseInt(size.group(1)));
  }

  /** Such as {@code RSA}, {@code EC P-256}, {@code Ed25519}, or a dotted identifier. */
  @Override
  public String toString() {
    String name = Oids.nameOrDotted(oid);
    return curve.map(c -> name + " " + Oids.nameOrDotted(c)).orElse(name);
  }
}
