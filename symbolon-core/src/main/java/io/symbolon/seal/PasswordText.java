// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * The first line of a file with a password, as editors write such files: UTF-8 with a mark in front
 * or without one, UTF-16 with its mark, or one octet for each character.
 */
public final class PasswordText {
  private PasswordText() {}

  /**
   * {@return the password that a file holds: its first line, without the line end}
   *
   * @param octets the content of the file, which the caller wipes
   * @param source what to call where it comes from
   */
  public static Secret read(byte[] octets, String source) {
    int mark = 0;
    Charset charset = StandardCharsets.UTF_8;
    if (begins(octets, 0xEF, 0xBB, 0xBF)) {
      mark = 3;
    } else if (begins(octets, 0xFF, 0xFE)) {
      mark = 2;
      charset = StandardCharsets.UTF_16LE;
    } else if (begins(octets, 0xFE, 0xFF)) {
      mark = 2;
      charset = StandardCharsets.UTF_16BE;
    }
    char[] characters = new char[octets.length]; // never more characters than octets
    try {
      int length = decode(ByteBuffer.wrap(octets, mark, octets.length - mark), charset, characters);
      int end = 0;
      while (end < length && characters[end] != '\n' && characters[end] != '\r') {
        end++;
      }
      char[] line = Arrays.copyOf(characters, end);
      try {
        return Secret.of(line, source);
      } finally {
        Arrays.fill(line, '\0');
      }
    } finally {
      Arrays.fill(characters, '\0');
    }
  }

  private static boolean begins(byte[] octets, int... mark) {
    for (int i = 0; i < mark.length; i++) {
      if (octets.length <= i || (octets[i] & 0xFF) != mark[i]) {
        return false;
      }
    }
    return true;
  }

  private static int decode(ByteBuffer octets, Charset charset, char[] into) {
    try {
      return strictly(octets.duplicate(), charset, into);
    } catch (CharacterCodingException e) {
      // No such text: a file of an older system, whose octets are characters.
      CharBuffer latin = CharBuffer.wrap(into);
      StandardCharsets.ISO_8859_1.newDecoder().decode(octets, latin, true);
      return latin.position();
    }
  }

  private static int strictly(ByteBuffer octets, Charset charset, char[] into)
      throws CharacterCodingException {
    CharBuffer decoded = CharBuffer.wrap(into);
    var result =
        charset
            .newDecoder()
            .onMalformedInput(CodingErrorAction.REPORT)
            .onUnmappableCharacter(CodingErrorAction.REPORT)
            .decode(octets, decoded, true);
    if (result.isError()) {
      result.throwException();
    }
    return decoded.position();
  }
}
