// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

import java.util.Arrays;

/**
 * The place of an input in a sentence that has still to get its name. The two marks around it are
 * never in a text from outside: such characters are shown as escapes.
 */
final class Mention {
  private static final char BEGIN = '\uE0A0';
  private static final char END = '\uE0A1';

  private Mention() {}

  static String of(Input input, String value) {
    return BEGIN + input.name() + ' ' + value + END;
  }

  static String replaced(String text, Naming naming) {
    int begin = text.indexOf(BEGIN);
    if (begin < 0) {
      return text;
    }
    int end = text.indexOf(END, begin);
    int space = text.indexOf(' ', begin);
    if (end < 0 || space < 0 || space > end) {
      return text;
    }
    String name = text.substring(begin + 1, space);
    return text.substring(0, begin)
        + Arrays.stream(Input.values())
            .filter(input -> input.name().equals(name))
            .findFirst()
            .map(input -> naming.of(input, text.substring(space + 1, end)))
            .orElse("")
        + replaced(text.substring(end + 1), naming);
  }
}
