// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/** Brings a text to one octet a character where it counts: drops marks and undoes UTF-16. */
final class TextBytes {
  private TextBytes() {}

  /**
   * The text without its byte-order mark; UTF-16, with a mark or without, becomes UTF-8. Octets
   * that are text already are returned as they are.
   */
  static byte[] plain(byte[] text) {
    if (text.length >= 3
        && text[0] == (byte) 0xEF
        && text[1] == (byte) 0xBB
        && text[2] == (byte) 0xBF) {
      return java.util.Arrays.copyOfRange(text, 3, text.length);
    }
    if (text.length >= 4) {
      int first = (text[0] & 0xFF) << 8 | (text[1] & 0xFF);
      if (first == 0xFFFE || (text[0] != 0 && text[1] == 0 && text[2] != 0 && text[3] == 0)) {
        return decoded(text, StandardCharsets.UTF_16LE, first == 0xFFFE ? 2 : 0);
      }
      if (first == 0xFEFF || (text[0] == 0 && text[1] != 0 && text[2] == 0 && text[3] != 0)) {
        return decoded(text, StandardCharsets.UTF_16BE, first == 0xFEFF ? 2 : 0);
      }
    }
    return text;
  }

  /** What was undone, a sentence. */
  static Optional<String> flaw(byte[] text) {
    byte[] plain = plain(text);
    if (plain == text) {
      return Optional.empty();
    }
    return Optional.of(
        text[0] == (byte) 0xEF
            ? "The text begins with a byte-order mark."
            : "The text is in UTF-16, two octets a character.");
  }

  private static byte[] decoded(byte[] text, Charset charset, int from) {
    return new String(text, from, text.length - from, charset).getBytes(StandardCharsets.UTF_8);
  }
}
