// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import io.symbolon.der.Element;
import io.symbolon.failure.SymbolonException;
import java.util.Arrays;
import java.util.Base64;
import java.util.BitSet;
import java.util.Optional;

/**
 * Collects the characters of a block and decodes them. A private key may pass through: what is let
 * go of is wiped.
 */
final class Base64Text {
  private byte[] characters = new byte[4096];
  private int count;
  private final BitSet endsOfLines = new BitSet(); // equals signs that a line ends in

  void clear() {
    count = 0;
    endsOfLines.clear();
  }

  void add(byte character) {
    if (count == characters.length) {
      byte[] larger = Arrays.copyOf(characters, characters.length * 2);
      Arrays.fill(characters, (byte) 0);
      characters = larger;
    }
    characters[count++] = character;
  }

  /** Says that a line ends here. */
  void endOfLine() {
    if (count > 0 && characters[count - 1] == '=') {
      endsOfLines.set(count - 1);
    }
  }

  /** The octets, with or without the padding that belongs behind them (RFC 4648, 3.2). */
  Optional<byte[]> decoded() {
    return decoded(characters, count);
  }

  private static Optional<byte[]> decoded(byte[] from, int count) {
    int length = count;
    while (length > 0 && from[length - 1] == '=' && count - length < 2) {
      length--;
    }
    if (length % 4 == 1) {
      return Optional.empty();
    }
    byte[] exact = Arrays.copyOf(from, length);
    try {
      return Optional.of(Base64.getDecoder().decode(exact));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    } finally {
      Arrays.fill(exact, (byte) 0);
    }
  }

  /**
   * The octets where mail has encoded the text once more (quoted-printable, RFC 2045, 6.7): an
   * equals sign at the end of a line folds it, and any other stands before the two hexadecimal
   * digits of a character. Only content that proves whole is taken.
   */
  Optional<byte[]> unquoted() {
    byte[] plain = new byte[count];
    int length = 0;
    try {
      for (int i = 0; i < count; i++) {
        if (characters[i] != '=') {
          plain[length++] = characters[i];
        } else if (isPadding(i)) {
          break;
        } else if (!endsOfLines.get(i)) {
          int high = i + 2 < count ? Character.digit(characters[i + 1], 16) : -1;
          int low = i + 2 < count ? Character.digit(characters[i + 2], 16) : -1;
          byte meant = (byte) (high << 4 | low);
          if (high < 0 || low < 0) {
            return Optional.empty();
          }
          if (Characters.isBase64(meant)) {
            plain[length++] = meant;
          } else if (!Characters.isSpace(meant) && meant != '\r' && meant != '\n') {
            return Optional.empty();
          }
          i += 2;
        }
      }
      return decoded(plain, length).filter(Base64Text::isWhole);
    } finally {
      Arrays.fill(plain, (byte) 0);
    }
  }

  /** Whether nothing but equals signs follows. */
  private boolean isPadding(int at) {
    for (int i = at; i < count; i++) {
      if (characters[i] != '=') {
        return false;
      }
    }
    return true;
  }

  /** Whether the octets are one value of DER from beginning to end. */
  static boolean isWhole(byte[] content) {
    try {
      return content.length > 1 && Element.read(content).endOffset() == content.length;
    } catch (SymbolonException e) {
      return false;
    }
  }

  void wipe() {
    Arrays.fill(characters, (byte) 0);
    clear();
  }
}
