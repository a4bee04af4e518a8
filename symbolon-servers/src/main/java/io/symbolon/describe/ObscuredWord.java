// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * Words that a server in Java obscures by turning each octet into four signs, against a look over
 * the shoulder. Anybody can turn them back.
 */
final class ObscuredWord {
  private static final String MARK = "OBF:";
  private static final int SIGNS = 4;
  private static final int BASE = 36;

  private ObscuredWord() {}

  /** A word as it is meant; one that is not obscured, or wrongly so, stays as it is. */
  static String plain(String word) {
    String signs = word.startsWith(MARK) ? word.substring(MARK.length()) : "";
    if (signs.isEmpty() || signs.length() > 4_096) {
      return word;
    }
    byte[] octets = new byte[signs.length()];
    int count = 0;
    try {
      for (int i = 0; i < signs.length(); i += SIGNS) {
        boolean single = signs.charAt(i) == 'U'; // an octet that is no letter stands alone
        int from = single ? i + 1 : i;
        int number = Integer.parseInt(signs.substring(from, from + SIGNS), BASE);
        i += single ? 1 : 0;
        octets[count++] = (byte) (single ? number >> 8 : (number / 256 + number % 256 - 254) / 2);
      }
    } catch (NumberFormatException | StringIndexOutOfBoundsException e) {
      return word;
    }
    return new String(Arrays.copyOf(octets, count), StandardCharsets.UTF_8);
  }
}
