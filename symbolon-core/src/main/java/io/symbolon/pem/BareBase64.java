package io.symbolon.pem;

import java.util.Arrays;
import java.util.Base64;
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
    byte[] text = TextBytes.plain(octets);
    byte[] characters = new byte[text.length];
    int length = 0;
    try {
      for (byte c : text) {
        if (Characters.isBase64(c)) {
          characters[length++] = c;
        } else if (c == '-' || c == '_') {
          characters[length++] = (byte) (c == '-' ? '+' : '/');
        } else if (!Characters.isSpace(c) && c != '\n' && c != '\r') {
          return Optional.empty();
        }
      }
      while (length > 0 && characters[length - 1] == '=') {
        length--;
      }
      if (length < LEAST) {
        return Optional.empty();
      }
      byte[] exact = Arrays.copyOf(characters, length);
      try {
        return Optional.of(Base64.getDecoder().decode(exact));
      } catch (IllegalArgumentException e) {
        return Optional.empty();
      } finally {
        Arrays.fill(exact, (byte) 0);
      }
    } finally {
      Arrays.fill(characters, (byte) 0);
    }
  }
}
