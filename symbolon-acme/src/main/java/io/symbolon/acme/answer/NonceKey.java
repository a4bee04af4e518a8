// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.issue.record.SigningAuthority;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;

/** The key for nonces, made of the authority's: every process that has that one has it. */
final class NonceKey {
  private static final byte[] USE = "nonces of RFC 8555".getBytes(StandardCharsets.US_ASCII);

  private NonceKey() {}

  static byte[] of(SigningAuthority signing) {
    byte[] key = signing.authority().credential().key().revealPkcs8();
    try {
      MessageDigest digest = MessageDigest.getInstance("SHA-256");
      digest.update(USE);
      return digest.digest(key);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e); // every Java has it
    } finally {
      Arrays.fill(key, (byte) 0);
    }
  }
}
