// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

import io.symbolon.oid.Oid;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Arrays;
import java.util.Collection;

/** Writes DER (X.690, 10 and 11): every method returns one whole encoded value. */
public final class Der {
  private Der() {}

  /** A SEQUENCE of values already encoded. */
  public static byte[] sequence(byte[]... values) {
    return tagged(Tags.SEQUENCE, values);
  }

  /** A SEQUENCE of values already encoded. */
  public static byte[] sequence(Collection<byte[]> values) {
    return tagged(Tags.SEQUENCE, values.toArray(byte[][]::new));
  }

  /** A SET OF values already encoded, which are put in the order DER asks for (X.690, 11.6). */
  public static byte[] setOf(Collection<byte[]> values) {
    byte[][] sorted = values.toArray(byte[][]::new);
    Arrays.sort(sorted, Arrays::compareUnsigned);
    return tagged(Tags.SET, sorted);
  }

  /** The values already encoded under an explicit context tag, or an implicit structure. */
  public static byte[] context(int number, byte[]... values) {
    return tagged(Tags.context(number), values);
  }

  /** Content octets under an implicit, primitive context tag. */
  public static byte[] contextPrimitive(int number, byte[] content) {
    return tagged(Tags.contextPrimitive(number), content);
  }

  /** An INTEGER. */
  public static byte[] integer(BigInteger value) {
    return tagged(Tags.INTEGER, value.toByteArray());
  }

  /** An INTEGER. */
  public static byte[] integer(long value) {
    return integer(BigInteger.valueOf(value));
  }

  /** An ENUMERATED. */
  public static byte[] enumerated(int value) {
    return tagged(Tags.ENUMERATED, BigInteger.valueOf(value).toByteArray());
  }

  /** A BOOLEAN. */
  public static byte[] bool(boolean value) {
    return tagged(Tags.BOOLEAN, new byte[] {(byte) (value ? 0xFF : 0)});
  }

  /** NULL. */
  public static byte[] nul() {
    return new byte[] {Tags.NULL, 0};
  }

  /** An OBJECT IDENTIFIER. */
  public static byte[] oid(Oid oid) {
    return tagged(Tags.OID, oid.content());
  }

  /** An OCTET STRING. */
  public static byte[] octets(byte[] octets) {
    return tagged(Tags.OCTET_STRING, octets);
  }

  /** A BIT STRING of whole octets. */
  public static byte[] bits(byte[] octets) {
    return tagged(Tags.BIT_STRING, new byte[] {0}, octets);
  }

  /** A BIT STRING of named bits, without trailing zero bits (X.690, 11.2.2). */
  public static byte[] namedBits(int bits) {
    if (bits == 0) {
      return tagged(Tags.BIT_STRING, new byte[] {0});
    }
    int highest = 31 - Integer.numberOfLeadingZeros(bits);
    byte[] octets = new byte[highest / 8 + 1];
    for (int bit = 0; bit <= highest; bit++) {
      if ((bits & (1 << bit)) != 0) {
        octets[bit / 8] |= (byte) (0x80 >> (bit % 8));
      }
    }
    return tagged(Tags.BIT_STRING, new byte[] {(byte) (7 - highest % 8)}, octets);
  }

  /** A UTF8String. */
  public static byte[] utf8(String text) {
    return tagged(Tags.UTF8_STRING, text.getBytes(StandardCharsets.UTF_8));
  }

  /** A PrintableString; the caller has checked the characters. */
  public static byte[] printable(String text) {
    return tagged(Tags.PRINTABLE_STRING, text.getBytes(StandardCharsets.US_ASCII));
  }

  /** An IA5String; the caller has checked the characters. */
  public static byte[] ia5(String text) {
    return tagged(Tags.IA5_STRING, text.getBytes(StandardCharsets.US_ASCII));
  }

  /** A BMPString: UTF-16, big end first. */
  public static byte[] bmp(String text) {
    return tagged(Tags.BMP_STRING, text.getBytes(StandardCharsets.UTF_16BE));
  }

  /**
   * A time: UTCTime until 2049, GeneralizedTime from 2050 on (RFC 5280, 4.1.2.5).
   *
   * @throws IllegalArgumentException outside of the years 1950 to 9999
   */
  public static byte[] time(Instant time) {
    return Times.write(time);
  }

  /**
   * A time that is a GeneralizedTime in every year (RFC 6960, 4.2.1).
   *
   * @throws IllegalArgumentException outside of the years 1950 to 9999
   */
  public static byte[] generalizedTime(Instant time) {
    return Times.write(time, true);
  }

  /** Content made of parts, under any tag of one octet. */
  public static byte[] tagged(int tag, byte[]... parts) {
    int length = 0;
    for (byte[] part : parts) {
      length = Math.addExact(length, part.length);
    }
    int octets = length < 0x80 ? 0 : (39 - Integer.numberOfLeadingZeros(length)) / 8;
    byte[] out = new byte[Math.addExact(2 + octets, length)];
    out[0] = (byte) tag;
    int at = 2 + octets;
    if (octets == 0) {
      out[1] = (byte) length;
    } else {
      out[1] = (byte) (0x80 | octets);
      for (int i = 0; i < octets; i++) {
        out[2 + i] = (byte) (length >>> (8 * (octets - 1 - i)));
      }
    }
    for (byte[] part : parts) {
      System.arraycopy(part, 0, out, at, part.length);
      at += part.length;
    }
    return out;
  }
}
