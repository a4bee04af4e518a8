// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Element;
import io.symbolon.oid.Oid;
import java.security.SecureRandom;
import java.util.Optional;

/**
 * How something is protected by a password: the scheme and its parameters, but neither the password
 * nor the content. Immutable.
 */
public sealed interface Protection permits Pbes1, Pbes2, Pkcs12Pbe {
  /**
   * {@return the protection that an AlgorithmIdentifier (RFC 5280, 4.1.1.2) names}
   *
   * @param algorithmIdentifier the AlgorithmIdentifier
   * @throws io.symbolon.failure.SymbolonException if it is malformed, unknown, or asks for more
   *     rounds than {@link io.symbolon.limit.Limits#ITERATIONS}
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  static Protection read(Element algorithmIdentifier) {
    var cursor = algorithmIdentifier.cursor(io.symbolon.der.Tags.SEQUENCE);
    Oid oid = cursor.next().oid();
    if (oid.equals(io.symbolon.der.Oids.PBES2)) {
      return Pbes2.readParameters(cursor.next());
    }
    if (Pkcs12Pbe.knows(oid)) {
      return Pkcs12Pbe.readParameters(oid, cursor.next());
    }
    if (Pbes1.knows(oid)) {
      return Pbes1.readParameters(oid, cursor.next());
    }
    throw Digests.Unsupported.scheme(io.symbolon.der.Oids.nameOrDotted(oid));
  }

  /**
   * Today's protection, with a fresh salt and initialisation vector: PBES2 with AES-256-CBC and
   * PBKDF2-HMAC-SHA-256.
   *
   * @param random where random numbers come from
   * @param rounds the number of derivation rounds
   * @return the protection
   */
  static Protection strong(SecureRandom random, int rounds) {
    return Pbes2.strong(random, rounds);
  }

  /**
   * {@return the weak protection that every old reader knows: SHA-1 and 3DES as PKCS#12 itself
   * defines them (RFC 7292, C)}
   *
   * @param random where random numbers come from
   * @param rounds the number of derivation rounds
   */
  static Protection forOldReaders(SecureRandom random, int rounds) {
    return Pkcs12Pbe.tripleDes(random, rounds);
  }

  /**
   * Opens what is protected.
   *
   * @param sealed the sealed octets
   * @param secret the password
   * @return the content, or nothing where this password is not the right one
   * @throws io.symbolon.failure.SymbolonException if the platform has no such cipher
   */
  Optional<byte[]> open(byte[] sealed, Secret secret);

  /**
   * Protects {@code content}.
   *
   * @param secret the password
   * @return the octets
   */
  byte[] seal(byte[] content, Secret secret);

  /** {@return the AlgorithmIdentifier of this protection, in DER} */
  byte[] encoding();

  /** {@return the number of derivation rounds} */
  int rounds();

  /**
   * {@return what opening it costs: the rounds, times the blocks that each computes}
   *
   * @throws io.symbolon.failure.SymbolonException if that is more than is carried out
   */
  long work();

  /** {@return the scheme in words, such as {@code PBES2, AES-256-CBC, PBKDF2-HMAC-SHA-256}} */
  String description();

  /** {@return whether a patient attacker breaks it whatever the password} */
  boolean isWeak();
}
