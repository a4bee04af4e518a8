// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A boundary line found inside a line of text.
 *
 * @param begin whether it opens a block
 * @param label the label in it
 * @param from where it starts in the text
 * @param to the first offset behind it
 * @param mangled whether its hyphens are not the five that belong there
 */
record Boundary(boolean begin, String label, int from, int to, boolean mangled) {
  private static final byte[] BEGIN = "-----BEGIN ".getBytes(StandardCharsets.US_ASCII);
  private static final byte[] END = "-----END ".getBytes(StandardCharsets.US_ASCII);

  // Dashes that word processors and mail programs put for hyphens; U+FFFD is one lost in decoding.
  private static final String DASH = "[-\\u2010-\\u2015\\u2212\\uFE58\\uFE63\\uFF0D\\u00AD\\uFFFD]";
  private static final Pattern MANGLED =
      Pattern.compile(
          DASH + "{1,10}\\h*(BEGIN|END) ([A-Z0-9 #]{3,40}?)\\h*" + DASH + "{1,10}\\h*$");

  /** The first boundary in the line {@code [from, to)} of the text, if any. */
  static Optional<Boundary> find(byte[] text, int from, int to) {
    for (int i = from; i + 9 < to; i++) {
      if (text[i] != '-') {
        continue;
      }
      boolean begin = startsWith(text, i, to, BEGIN);
      if (begin || startsWith(text, i, to, END)) {
        int labelStart = i + (begin ? BEGIN.length : END.length);
        int labelEnd = labelStart;
        while (labelEnd < to && text[labelEnd] != '-') {
          labelEnd++;
        }
        int hyphens = labelEnd;
        while (hyphens < to && hyphens < labelEnd + 5 && text[hyphens] == '-') {
          hyphens++;
        }
        String label =
            new String(text, labelStart, labelEnd - labelStart, StandardCharsets.ISO_8859_1).trim();
        if (isLabel(label)) {
          return Optional.of(new Boundary(begin, label, i, hyphens, hyphens - labelEnd != 5));
        }
      }
    }
    return mangled(text, from, to);
  }

  private static boolean isLabel(String label) {
    if (label.isEmpty() || label.length() > 64) {
      return false;
    }
    return label
        .chars()
        .allMatch(
            c -> (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || " #./:-".indexOf(c) >= 0);
  }

  private static Optional<Boundary> mangled(byte[] text, int from, int to) {
    if (to - from > 400 || !mentions(text, from, to)) {
      return Optional.empty();
    }
    Matcher matcher =
        MANGLED.matcher(new String(text, from, to - from, StandardCharsets.UTF_8).strip());
    if (!matcher.find()) {
      return Optional.empty();
    }
    return Optional.of(
        new Boundary(matcher.group(1).equals("BEGIN"), matcher.group(2).trim(), from, to, true));
  }

  private static boolean mentions(byte[] text, int from, int to) {
    for (int i = from; i + 4 < to; i++) {
      if ((text[i] == 'B' && text[i + 1] == 'E' && text[i + 2] == 'G' && text[i + 3] == 'I')
          || (text[i] == 'E' && text[i + 1] == 'N' && text[i + 2] == 'D' && text[i + 3] == ' ')) {
        return true;
      }
    }
    return false;
  }

  private static boolean startsWith(byte[] text, int at, int to, byte[] what) {
    return at + what.length <= to
        && java.util.Arrays.equals(text, at, at + what.length, what, 0, what.length);
  }
}
