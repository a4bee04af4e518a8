// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

/** What an octet of a text is. */
final class Characters {
  private Characters() {}

  static boolean isSpace(byte c) {
    return c == ' ' || c == '\t' || c == 0x0B || c == 0x0C;
  }

  static boolean isBase64(byte c) {
    return (c >= 'A' && c <= 'Z')
        || (c >= 'a' && c <= 'z')
        || (c >= '0' && c <= '9')
        || c == '+'
        || c == '/'
        || c == '=';
  }

  /** A line break written as an escape, as in a JSON string that holds a whole file. */
  static boolean isEscape(byte[] text, int at, int to) {
    return text[at] == '\\' && at + 1 < to && (text[at + 1] == 'n' || text[at + 1] == 'r');
  }
}
