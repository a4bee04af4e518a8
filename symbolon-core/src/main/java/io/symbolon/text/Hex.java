// SPDX-License-Identifier: Apache-2.0
package io.symbolon.text;

import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** Bytes as hexadecimal text, and the SHA-256 fingerprint that identifies things everywhere. */
public final class Hex {
  private static final HexFormat LOWER = HexFormat.of();

  private Hex() {}

  /** Lower-case digits without separators. */
  public static String of(byte[] bytes) {
    return LOWER.formatHex(bytes);
  }

  /** Lower-case digits of a part of {@code bytes}. */
  public static String of(byte[] bytes, int from, int to) {
    return LOWER.formatHex(bytes, from, to);
  }

  /** The SHA-256 of {@code bytes}: 64 lower-case hexadecimal digits. */
  public static String sha256(byte[] bytes) {
    return sha256(bytes, 0, bytes.length);
  }

  /** The SHA-256 of {@code length} bytes from {@code offset}: 64 lower-case hexadecimal digits. */
  public static String sha256(byte[] bytes, int offset, int length) {
    return digest("SHA-256", bytes, offset, length);
  }

  /** The SHA-1 of {@code bytes}, which people still compare fingerprints by: 40 digits. */
  public static String sha1(byte[] bytes) {
    return digest("SHA-1", bytes, 0, bytes.length);
  }

  private static String digest(String algorithm, byte[] bytes, int offset, int length) {
    try {
      MessageDigest digest = MessageDigest.getInstance(algorithm);
      digest.update(bytes, offset, length);
      return of(digest.digest());
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has " + algorithm, e);
    }
  }
}
