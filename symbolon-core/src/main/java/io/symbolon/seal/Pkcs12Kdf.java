// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;

/** The key derivation of PKCS#12 (RFC 7292, B.2), over any digest of the platform. */
final class Pkcs12Kdf {
  static final int FOR_KEY = 1; // the "ID" octet of B.3
  static final int FOR_IV = 2;
  static final int FOR_MAC = 3;

  private Pkcs12Kdf() {}

  /**
   * Derives octets.
   *
   * @param password the password as a BMPString with two zero octets at its end, or no octets at
   *     all
   */
  static byte[] derive(
      String digestName, int purpose, byte[] password, byte[] salt, int rounds, int length) {
    try {
      MessageDigest digest = MessageDigest.getInstance(digestName);
      int u = digest.getDigestLength();
      // Block length: SHA-384, SHA-512 and what is cut from it work on 128 octets.
      int v = u > 32 || digestName.startsWith("SHA-512") ? 128 : 64;
      byte[] diversifier = new byte[v];
      Arrays.fill(diversifier, (byte) purpose);
      byte[] input = concat(repeated(salt, v), repeated(password, v));
      byte[] derived = new byte[length];
      for (int at = 0; at < length; at += u) {
        digest.update(diversifier);
        byte[] a = digest.digest(input);
        for (int round = 1; round < rounds; round++) {
          digest.update(a);
          digest.digest(a, 0, u);
        }
        System.arraycopy(a, 0, derived, at, Math.min(u, length - at));
        if (at + u < length) {
          byte[] b = new byte[v];
          for (int i = 0; i < v; i++) {
            b[i] = a[i % u];
          }
          for (int block = 0; block < input.length; block += v) {
            addWithOne(input, block, b);
          }
        }
        Arrays.fill(a, (byte) 0);
      }
      Arrays.fill(input, (byte) 0);
      return derived;
    } catch (NoSuchAlgorithmException | java.security.DigestException e) {
      throw new IllegalStateException("the platform lacks " + digestName, e);
    }
  }

  /** Block := (block + b + 1) mod 2^(8v). */
  private static void addWithOne(byte[] input, int block, byte[] b) {
    int carry = 1;
    for (int i = b.length - 1; i >= 0; i--) {
      carry += (input[block + i] & 0xFF) + (b[i] & 0xFF);
      input[block + i] = (byte) carry;
      carry >>>= 8;
    }
  }

  private static byte[] repeated(byte[] what, int v) {
    byte[] out = new byte[v * ((what.length + v - 1) / v)];
    for (int i = 0; i < out.length; i++) {
      out[i] = what[i % what.length];
    }
    return out;
  }

  private static byte[] concat(byte[] a, byte[] b) {
    byte[] out = Arrays.copyOf(a, a.length + b.length);
    System.arraycopy(b, 0, out, a.length, b.length);
    return out;
  }
}
