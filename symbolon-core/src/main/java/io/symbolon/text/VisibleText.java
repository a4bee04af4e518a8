// SPDX-License-Identifier: Apache-2.0
package io.symbolon.text;

import io.symbolon.limit.Limits;

/**
 * Text from a file, made safe to show: control characters, direction changes, what is not to be
 * seen (zero-width and filling characters, spaces of other widths) and lone surrogates appear as
 * {@code \}{@code u{202E}} instead of acting on the terminal.
 */
public final class VisibleText {

  private VisibleText() {}

  /** The text with everything that would not show, or would change what shows, made visible. */
  public static String of(String text) {
    if (isPlain(text)) {
      return text;
    }
    StringBuilder shown = new StringBuilder(text.length() + 16);
    int at = 0;
    while (at < text.length()) {
      if (shown.length() > Limits.SHOWN_TEXT) {
        return shown.append("… (").append(text.length()).append(" characters)").toString();
      }
      int point = text.codePointAt(at);
      if (isHarmless(point)) {
        shown.appendCodePoint(point);
      } else {
        shown.append(String.format("\\u{%X}", point));
      }
      at += Character.charCount(point);
    }
    return shown.toString();
  }

  private static boolean isPlain(String text) {
    if (text.length() > Limits.SHOWN_TEXT) {
      return false;
    }
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (c < 0x20 || c > 0x7E) {
        return false;
      }
    }
    return true;
  }

  private static boolean isHarmless(int point) {
    return switch (Character.getType(point)) {
      case Character.CONTROL,
          Character.FORMAT,
          Character.SURROGATE,
          Character.UNASSIGNED,
          Character.LINE_SEPARATOR,
          Character.PARAGRAPH_SEPARATOR,
          Character.PRIVATE_USE ->
          false;
      case Character.SPACE_SEPARATOR -> point == ' ';
      default -> !isFiller(point);
    };
  }

  /** Letters, marks and symbols that show nothing (Default_Ignorable_Code_Point, and blanks). */
  private static boolean isFiller(int point) {
    return point == 0x034F // combining grapheme joiner
        || point == 0x115F // Hangul fillers, also in their compatibility and half-width forms
        || point == 0x1160
        || point == 0x3164
        || point == 0xFFA0
        || point == 0x17B4 // Khmer vowels that are not to be seen
        || point == 0x17B5
        || (point >= 0x180B && point <= 0x180F) // Mongolian variation selectors
        || point == 0x2800 // the Braille pattern without a dot
        || (point >= 0xFE00 && point <= 0xFE0F) // variation selectors
        || (point >= 0xE0000 && point <= 0xE0FFF)
        || (point >= 0x1D173 && point <= 0x1D17A) // musical beams
        || (point >= 0x1BCA0 && point <= 0x1BCA3); // shorthand
  }
}
