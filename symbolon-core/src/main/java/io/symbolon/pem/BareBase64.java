// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.util.Optional;

/**
 * Base64 without boundary lines: as it is pasted from a form, a message or a secret of a container
 * platform.
 */
public final class BareBase64 {
  private static final int LEAST = 64; // characters; shorter ones are words

  private BareBase64() {}

  /**
   * The octets that a text encodes, if it is Base64 (either alphabet of RFC 4648) and white space
   * from beginning to end. What they are is for the caller to judge.
   */
  public static Optional<byte[]> decode(byte[] octets) {
    Base64Text characters = new Base64Text();
    try {
      int count = 0;
      for (byte c : TextBytes.plain(octets)) {
        boolean other = c == '-' || c == '_';
        if (Characters.isBase64(c) || other) {
          characters.add(other ? (byte) (c == '-' ? '+' : '/') : c);
          count++;
        } else if (!Characters.isSpace(c) && c != '\n' && c != '\r') {
          return Optional.empty();
        }
      }
      return count < LEAST ? Optional.empty() : characters.decoded();
    } finally {
      characters.wipe();
    }
  }
}
