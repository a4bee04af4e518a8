// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import java.text.Normalizer;
import java.util.Locale;
import java.util.Optional;

/**
 * A label of a host name in letters beyond ASCII, and its encoded form (RFC 5891 to 5893, RFC
 * 3492). The platform's converter follows the older standard, by which {@code ß} becomes {@code ss}
 * and signs such as hearts are let through: another host than the one that browsers ask for.
 */
final class InternationalLabel {
  private static final String PREFIX = "xn--";
  private static final int BASE = 36;
  private static final int FIRST = 1;
  private static final int LAST = 26;
  private static final int SKEW = 38;
  private static final int DAMP = 700;
  private static final int BIAS = 72;
  private static final int NOT_ASCII = 0x80;
  private static final int LONGEST = 63;

  private InternationalLabel() {}

  /**
   * The label as it stands in a certificate.
   *
   * @return nothing where it is none
   */
  static Optional<String> encode(String label) {
    String lower = Normalizer.normalize(label.toLowerCase(Locale.ROOT), Normalizer.Form.NFKC);
    // What compatibility changes beyond case and composition is not what browsers ask for.
    String plain = Normalizer.normalize(lower.toLowerCase(Locale.ROOT), Normalizer.Form.NFC);
    if (plain.chars().allMatch(c -> c < NOT_ASCII)) {
      return Optional.of(plain);
    }
    int[] points = plain.codePoints().toArray();
    if (!allowed(plain, points)) {
      return Optional.empty();
    }
    String encoded = PREFIX + punycode(points);
    return encoded.length() <= LONGEST ? Optional.of(encoded) : Optional.empty();
  }

  /** RFC 5891, 4.2.3, and the characters of RFC 5892 by their general categories. */
  private static boolean allowed(String label, int[] points) {
    if (label.startsWith("-")
        || label.endsWith("-")
        || (label.length() > 3 && label.startsWith("--", 2))) {
      return false;
    }
    for (int i = 0; i < points.length; i++) {
      int point = points[i];
      switch (Character.getType(point)) {
        case Character.LOWERCASE_LETTER,
            Character.OTHER_LETTER,
            Character.MODIFIER_LETTER,
            Character.DECIMAL_DIGIT_NUMBER -> {}
        case Character.NON_SPACING_MARK, Character.COMBINING_SPACING_MARK -> {
          if (i == 0) {
            return false;
          }
        }
        default -> {
          // Joiners stand behind a virama (RFC 5892, A.1 and A.2); the hyphen, and the dot of l·l.
          boolean joiner = (point == 0x200C || point == 0x200D) && i > 0;
          boolean dot =
              point == 0xB7
                  && i > 0
                  && i + 1 < points.length
                  && points[i - 1] == 'l'
                  && points[i + 1] == 'l';
          if (!joiner && !dot && point != '-' && point != '_') {
            return false;
          }
        }
      }
    }
    return true;
  }

  private static int adapt(int delta, int count, boolean first) {
    int rest = first ? delta / DAMP : delta / 2;
    rest += rest / count;
    int k = 0;
    while (rest > ((BASE - FIRST) * LAST) / 2) {
      rest /= BASE - FIRST;
      k += BASE;
    }
    return k + (BASE - FIRST + 1) * rest / (rest + SKEW);
  }

  private static int threshold(int k, int bias) {
    return Math.max(FIRST, Math.min(LAST, k - bias));
  }

  /** RFC 3492, 6.3. */
  private static String punycode(int[] points) {
    StringBuilder out = new StringBuilder();
    for (int point : points) {
      if (point < NOT_ASCII) {
        out.append((char) point);
      }
    }
    int basic = out.length();
    int handled = basic;
    if (basic > 0) {
      out.append('-');
    }
    int n = NOT_ASCII;
    int delta = 0;
    int bias = BIAS;
    while (handled < points.length) {
      int next = Integer.MAX_VALUE;
      for (int point : points) {
        next = point >= n && point < next ? point : next;
      }
      delta += (next - n) * (handled + 1);
      n = next;
      for (int point : points) {
        if (point < n) {
          delta++;
        } else if (point == n) {
          int q = delta;
          for (int k = BASE; ; k += BASE) {
            int t = threshold(k, bias);
            if (q < t) {
              break;
            }
            out.append(digit(t + (q - t) % (BASE - t)));
            q = (q - t) / (BASE - t);
          }
          out.append(digit(q));
          bias = adapt(delta, handled + 1, handled == basic);
          delta = 0;
          handled++;
        }
      }
      delta++;
      n++;
    }
    return out.toString();
  }

  private static char digit(int value) {
    return (char) (value < LAST ? 'a' + value : '0' + value - LAST);
  }

  /** The label in its own letters; as it is where it is no encoded one (RFC 3492, 6.2). */
  static String decode(String label) {
    if (!label.startsWith(PREFIX)) {
      return label;
    }
    String text = label.substring(PREFIX.length());
    int end = text.lastIndexOf('-');
    StringBuilder out = new StringBuilder(end > 0 ? text.substring(0, end) : "");
    int n = NOT_ASCII;
    int at = 0;
    int bias = BIAS;
    int from = end > 0 ? end + 1 : 0;
    int count = out.length();
    while (from < text.length()) {
      long old = at;
      long weight = 1;
      long index = at;
      for (int k = BASE; ; k += BASE) {
        if (from >= text.length()) {
          return label;
        }
        int value = value(text.charAt(from++));
        if (value < 0) {
          return label;
        }
        index += value * weight;
        int t = threshold(k, bias);
        if (value < t) {
          break;
        }
        weight *= BASE - t;
        if (index > Integer.MAX_VALUE || weight > Integer.MAX_VALUE) {
          return label;
        }
      }
      count++;
      bias = adapt((int) (index - old), count, old == 0);
      n += (int) (index / count);
      at = (int) (index % count);
      if (!Character.isValidCodePoint(n)) {
        return label;
      }
      out.insert(out.offsetByCodePoints(0, at), Character.toString(n));
      at++;
    }
    String decoded = out.toString();
    return encode(decoded).filter(label::equals).isPresent() ? decoded : label;
  }

  private static int value(char c) {
    if (c >= 'a' && c <= 'z') {
      return c - 'a';
    }
    return c >= '0' && c <= '9' ? c - '0' + LAST : -1;
  }
}
