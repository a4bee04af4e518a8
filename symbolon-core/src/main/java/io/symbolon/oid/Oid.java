// SPDX-License-Identifier: Apache-2.0
package io.symbolon.oid;

import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import java.io.ByteArrayOutputStream;
import java.math.BigInteger;
import java.util.Arrays;

/**
 * An object identifier. Its text form is the dotted one, {@code 2.5.4.3}; {@link #of} and {@link
 * #toString} round-trip.
 */
public final class Oid {

  private final byte[] content;
  private final int hash;

  private Oid(byte[] content) {
    this.content = content;
    this.hash = Arrays.hashCode(content);
  }

  /**
   * The identifier with a dotted text form.
   *
   * @param dotted the text form
   * @return the identifier
   * @throws IllegalArgumentException if the text is not at least two numbers joined by dots, or the
   *     first two are out of range
   */
  public static Oid of(String dotted) {
    ByteArrayOutputStream small = new ByteArrayOutputStream(16);
    if (writeSmall(small, dotted)) {
      return new Oid(small.toByteArray());
    }
    String[] parts = dotted.split("\\.", -1);
    if (parts.length < 2) {
      throw new IllegalArgumentException("not an object identifier: '" + dotted + "'");
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    BigInteger first = number(parts[0], dotted);
    BigInteger second = number(parts[1], dotted);
    boolean bounded = first.compareTo(BigInteger.TWO) < 0;
    if (first.compareTo(BigInteger.TWO) > 0
        || (bounded && second.compareTo(BigInteger.valueOf(39)) > 0)) {
      throw new IllegalArgumentException("not an object identifier: '" + dotted + "'");
    }
    writeArc(out, first.multiply(BigInteger.valueOf(40)).add(second));
    for (int i = 2; i < parts.length; i++) {
      writeArc(out, number(parts[i], dotted));
    }
    return new Oid(out.toByteArray());
  }

  /**
   * {@return the identifier that content octets (X.690, 8.19) hold}
   *
   * @param bytes the octets
   * @param from where the content begins
   * @param to where it ends, exclusive
   * @throws SymbolonException if it is none, or too long
   */
  public static Oid ofContent(byte[] bytes, int from, int to) {
    int length = to - from;
    if (length == 0 || length > Limits.OID_BYTES || (bytes[to - 1] & 0x80) != 0) {
      throw SymbolonException.malformed(
          "object identifier", "It has " + length + " octets or breaks off in its last number.");
    }
    boolean start = true;
    for (int i = from; i < to; i++) {
      if (start && bytes[i] == (byte) 0x80) {
        throw SymbolonException.malformed(
            "object identifier", "One of its numbers starts with a needless zero.");
      }
      start = (bytes[i] & 0x80) == 0;
    }
    return new Oid(Arrays.copyOfRange(bytes, from, to));
  }

  /** Nearly all identifiers have small numbers, and the table of them is read at every start. */
  private static boolean writeSmall(ByteArrayOutputStream out, String dotted) {
    long arc = 0;
    long first = -1;
    int digits = 0;
    boolean second = false;
    for (int i = 0; i <= dotted.length(); i++) {
      char c = i < dotted.length() ? dotted.charAt(i) : '.';
      if (c >= '0' && c <= '9' && digits < 15) {
        arc = 10 * arc + (c - '0');
        digits++;
      } else if (c != '.' || digits == 0) {
        return false;
      } else {
        if (first < 0) {
          first = arc;
          second = true;
        } else if (second) {
          if (first > 2 || (first < 2 && arc > 39)) {
            return false;
          }
          writeArc(out, 40 * first + arc);
          second = false;
        } else {
          writeArc(out, arc);
        }
        arc = 0;
        digits = 0;
      }
    }
    return out.size() > 0;
  }

  private static void writeArc(ByteArrayOutputStream out, long arc) {
    int groups = Math.max(1, (70 - Long.numberOfLeadingZeros(arc)) / 7);
    for (int i = groups - 1; i >= 0; i--) {
      int group = (int) (arc >>> (7 * i)) & 0x7F;
      out.write(i == 0 ? group : group | 0x80);
    }
  }

  private static BigInteger number(String text, String dotted) {
    if (text.isEmpty() || text.length() > 64 || !text.chars().allMatch(c -> c >= '0' && c <= '9')) {
      throw new IllegalArgumentException("not an object identifier: '" + dotted + "'");
    }
    return new BigInteger(text);
  }

  private static void writeArc(ByteArrayOutputStream out, BigInteger arc) {
    int groups = Math.max(1, (arc.bitLength() + 6) / 7);
    for (int i = groups - 1; i >= 0; i--) {
      int group = arc.shiftRight(7 * i).intValue() & 0x7F;
      out.write(i == 0 ? group : group | 0x80);
    }
  }

  /** {@return a copy of its content octets (X.690, 8.19)} */
  public byte[] content() {
    return content.clone();
  }

  /**
   * {@return whether content octets hold this identifier}
   *
   * @param bytes the octets
   * @param from where the content begins
   * @param to where it ends, exclusive
   */
  public boolean hasContent(byte[] bytes, int from, int to) {
    return Arrays.equals(content, 0, content.length, bytes, from, to);
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Oid that && Arrays.equals(content, that.content);
  }

  @Override
  public int hashCode() {
    return hash;
  }

  @Override
  public String toString() {
    StringBuilder small = new StringBuilder(24);
    long value = 0;
    for (byte octet : content) {
      if (value >>> 55 != 0) {
        return longText();
      }
      value = (value << 7) | (octet & 0x7F);
      if ((octet & 0x80) == 0) {
        if (small.isEmpty()) {
          long first = Math.min(2, value / 40);
          small.append(first).append('.').append(value - 40 * first);
        } else {
          small.append('.').append(value);
        }
        value = 0;
      }
    }
    return small.toString();
  }

  /** The text of an identifier with a number of any size. */
  private String longText() {
    StringBuilder text = new StringBuilder();
    BigInteger arc = BigInteger.ZERO;
    for (byte octet : content) {
      arc = arc.shiftLeft(7).or(BigInteger.valueOf(octet & 0x7F));
      if ((octet & 0x80) == 0) {
        if (text.isEmpty()) {
          int first =
              Math.min(2, arc.divide(BigInteger.valueOf(40)).min(BigInteger.TWO).intValue());
          text.append(first).append('.').append(arc.subtract(BigInteger.valueOf(40L * first)));
        } else {
          text.append('.').append(arc);
        }
        arc = BigInteger.ZERO;
      }
    }
    return text.toString();
  }
}
