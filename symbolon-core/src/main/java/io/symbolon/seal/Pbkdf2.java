// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import java.security.GeneralSecurityException;
import java.util.Arrays;
import javax.crypto.Mac;
import javax.crypto.SecretKey;

/**
 * PBKDF2 (RFC 8018, 5.2) over any HMAC of the platform. Each block costs one HMAC a round; nothing
 * is allocated in the loop.
 */
final class Pbkdf2 {
  private Pbkdf2() {}

  static byte[] derive(String hmac, byte[] password, byte[] salt, int rounds, int length) {
    try {
      Mac mac = Mac.getInstance(hmac);
      mac.init(new HmacKey(password, hmac));
      int size = mac.getMacLength();
      byte[] derived = new byte[length];
      byte[] u = new byte[size];
      byte[] block = new byte[size];
      for (int index = 1, at = 0; at < length; index++, at += size) {
        mac.update(salt);
        mac.update(
            new byte[] {
              (byte) (index >>> 24), (byte) (index >>> 16), (byte) (index >>> 8), (byte) index
            });
        mac.doFinal(u, 0);
        System.arraycopy(u, 0, block, 0, size);
        for (int round = 1; round < rounds; round++) {
          mac.update(u);
          mac.doFinal(u, 0);
          for (int i = 0; i < size; i++) {
            block[i] ^= u[i];
          }
        }
        System.arraycopy(block, 0, derived, at, Math.min(size, length - at));
      }
      Arrays.fill(u, (byte) 0);
      Arrays.fill(block, (byte) 0);
      return derived;
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("the platform lacks " + hmac, e);
    }
  }

  /** A key that may be empty, which the platform's own key class refuses. */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  private record HmacKey(byte[] password, String algorithm) implements SecretKey {
    private static final long serialVersionUID = 1L;

    @Override
    public String getAlgorithm() {
      return algorithm;
    }

    @Override
    public String getFormat() {
      return "RAW";
    }

    @Override
    public byte[] getEncoded() {
      return password.clone();
    }

    @Override
    public String toString() {
      return "HmacKey";
    }
  }
}
