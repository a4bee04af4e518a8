// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;

/** The digest that proofs are made of (RFC 8555, 8.4; RFC 8737, 3). */
public final class Sha256 {
  private Sha256() {}

  /** {@return the digest of a text in ASCII} */
  public static byte[] of(String text) {
    try {
      return MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.US_ASCII));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e); // every Java has it
    }
  }

  /** {@return the same in base64url} */
  public static String text(String text) {
    return Base64.getUrlEncoder().withoutPadding().encodeToString(of(text));
  }
}
