// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.failure.SymbolonException;
import java.math.BigInteger;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.security.SecureRandomSpi;
import java.security.interfaces.ECPrivateKey;
import java.security.interfaces.EdECPrivateKey;
import java.security.interfaces.XECPrivateKey;
import java.security.spec.AlgorithmParameterSpec;
import java.util.Arrays;
import java.util.Optional;

/**
 * Finds the public half of an elliptic-curve key whose structure does not carry it, as Java writes
 * them. The platform computes public halves only when it makes keys: so it is asked to make one,
 * with the octets of this key for its random ones. What comes out is believed only if its private
 * half is this key; another platform may use its random octets in another way, and then nothing is
 * found.
 */
final class PublicHalf {
  private PublicHalf() {}

  static Optional<SubjectPublicKeyInfo> derive(PrivateKeyInfo info) {
    try {
      PrivateKey key = info.toPrivateKey();
      if (key instanceof ECPrivateKey ec) {
        return found(generator("EC"), ec.getParams(), reversed(ec.getS()), key);
      }
      if (key instanceof EdECPrivateKey ed && ed.getBytes().isPresent()) {
        return found(generator("EdDSA"), ed.getParams(), ed.getBytes().get(), key);
      }
      if (key instanceof XECPrivateKey xec && xec.getScalar().isPresent()) {
        return found(generator("XDH"), xec.getParams(), xec.getScalar().get(), key);
      }
      return Optional.empty();
    } catch (SymbolonException | GeneralSecurityException e) {
      return Optional.empty(); // the platform can't compute with this key
    }
  }

  private static KeyPairGenerator generator(String algorithm) throws GeneralSecurityException {
    return KeyPairGenerator.getInstance(algorithm);
  }

  private static Optional<SubjectPublicKeyInfo> found(
      KeyPairGenerator generator,
      AlgorithmParameterSpec parameters,
      byte[] octets,
      PrivateKey wanted)
      throws GeneralSecurityException {
    try {
      generator.initialize(parameters, new Given(octets));
      KeyPair pair = generator.generateKeyPair();
      return isSame(pair.getPrivate(), wanted)
          ? Optional.of(SubjectPublicKeyInfo.of(pair.getPublic()))
          : Optional.empty();
    } catch (RuntimeException e) {
      return Optional.empty(); // octets that it does not take for random ones
    } finally {
      Arrays.fill(octets, (byte) 0);
    }
  }

  private static boolean isSame(PrivateKey made, PrivateKey wanted) {
    if (made instanceof ECPrivateKey a && wanted instanceof ECPrivateKey b) {
      return a.getS().equals(b.getS());
    }
    if (made instanceof EdECPrivateKey a && wanted instanceof EdECPrivateKey b) {
      return Arrays.equals(a.getBytes().orElseThrow(), b.getBytes().orElseThrow());
    }
    return made instanceof XECPrivateKey a
        && wanted instanceof XECPrivateKey b
        && Arrays.equals(a.getScalar().orElseThrow(), b.getScalar().orElseThrow());
  }

  /** The octets of a number, little end first. */
  private static byte[] reversed(BigInteger number) {
    byte[] big = number.toByteArray();
    byte[] little = new byte[big.length];
    for (int i = 0; i < big.length; i++) {
      little[i] = big[big.length - 1 - i];
    }
    Arrays.fill(big, (byte) 0);
    return little;
  }

  /** Octets that are given instead of random ones, with zeros behind them. */
  private static final class Given extends SecureRandom {
    private static final long serialVersionUID = 1L;

    Given(byte[] octets) {
      super(
          new SecureRandomSpi() {
            private static final long serialVersionUID = 1L;

            @Override
            protected void engineNextBytes(byte[] bytes) {
              Arrays.fill(bytes, (byte) 0);
              System.arraycopy(octets, 0, bytes, 0, Math.min(octets.length, bytes.length));
            }

            @Override
            protected void engineSetSeed(byte[] seed) {}

            @Override
            protected byte[] engineGenerateSeed(int count) {
              return new byte[count];
            }
          },
          null);
    }
  }
}
