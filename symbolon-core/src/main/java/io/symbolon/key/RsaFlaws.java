// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.limit.Limits;
import java.math.BigInteger;
import java.util.Optional;

/**
 * What is wrong with an RSA public key and can be seen in it alone.
 *
 * <p>A signature that is checked with the exponent 1 is its own content: anybody makes it. An even
 * exponent or modulus belongs to no pair of keys. A modulus with a small factor, one that is itself
 * a prime, or one whose two primes lie close together gives its private key away; the last is found
 * by Fermat's method, of which a few steps are enough for primes that a broken generator chose side
 * by side.
 */
final class RsaFlaws {
  private static final int CERTAINTY = 40; // of the test for primes: wrong once in 2^40

  private static final class Holder {
    static final BigInteger PRODUCT = product();

    private static BigInteger product() {
      BigInteger product = BigInteger.ONE;
      boolean[] composite = new boolean[Limits.SMALL_PRIMES];
      for (int i = 3; i < Limits.SMALL_PRIMES; i += 2) {
        if (!composite[i]) {
          product = product.multiply(BigInteger.valueOf(i));
          for (int j = 3 * i; j < Limits.SMALL_PRIMES; j += 2 * i) {
            composite[j] = true;
          }
        }
      }
      return product;
    }
  }

  private RsaFlaws() {}

  /** Why signatures of the key prove nothing, or are not checked. */
  static Optional<String> ofVerifying(BigInteger modulus, BigInteger exponent) {
    if (exponent.signum() <= 0 || exponent.equals(BigInteger.ONE)) {
      return Optional.of(
          "Its public exponent is "
              + (exponent.signum() <= 0 ? "not positive" : "1")
              + ": everybody can make its signatures.");
    }
    if (!exponent.testBit(0)) {
      return Optional.of("Its public exponent is even: no private key belongs to it.");
    }
    if (exponent.bitLength() > Limits.RSA_EXPONENT_BITS) {
      return Optional.of(
          "Its public exponent has "
              + exponent.bitLength()
              + " bits; ordinary ones have 17, and more than "
              + Limits.RSA_EXPONENT_BITS
              + " are not accepted.");
    }
    if (modulus.signum() <= 0 || !modulus.testBit(0)) {
      return Optional.of("Its modulus is even or not positive: it is not a product of two primes.");
    }
    return Optional.empty();
  }

  /** The same with the tests that take a few milliseconds. */
  static Optional<String> of(BigInteger modulus, BigInteger exponent) {
    Optional<String> flaw = ofVerifying(modulus, exponent);
    if (flaw.isPresent() || modulus.bitLength() > Limits.RSA_BITS) {
      return flaw;
    }
    BigInteger common = modulus.gcd(Holder.PRODUCT);
    if (!common.equals(BigInteger.ONE)) {
      return Optional.of("Its modulus has a small factor: its private key can be computed.");
    }
    if (modulus.isProbablePrime(CERTAINTY)) {
      return Optional.of("Its modulus is a prime: its private key can be computed.");
    }
    return isProductOfNeighbours(modulus)
        ? Optional.of(
            "The two primes of its modulus lie close together: its private key can be computed.")
        : Optional.empty();
  }

  /** Fermat: n = a^2 - b^2 with a near the root of n. */
  private static boolean isProductOfNeighbours(BigInteger modulus) {
    BigInteger a = modulus.sqrt();
    if (a.multiply(a).compareTo(modulus) < 0) {
      a = a.add(BigInteger.ONE);
    }
    for (int i = 0; i < Limits.FERMAT_STEPS; i++) {
      BigInteger rest = a.multiply(a).subtract(modulus);
      BigInteger root = rest.sqrt();
      if (root.multiply(root).equals(rest)) {
        return true;
      }
      a = a.add(BigInteger.ONE);
    }
    return false;
  }
}
