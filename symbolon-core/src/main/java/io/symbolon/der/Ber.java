// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import java.io.ByteArrayOutputStream;
import java.util.Arrays;

/**
 * Rewrites BER as values of definite length, for the two formats whose standards allow it (PKCS#7
 * and PKCS#12, often written in a stream).
 *
 * <p>Three things change: an indefinite length becomes a definite one; an OCTET STRING made of
 * pieces becomes one piece; a length that is longer than need be becomes short. A value in which
 * none of this occurs keeps its bytes, so signed parts stay as they were signed. The walk is one
 * pass with a bounded depth and a bounded number of values; the output is never longer than the
 * input plus four octets a value.
 */
public final class Ber {
  private final byte[] in;
  private int at;
  private int values;

  private Ber(byte[] in) {
    this.in = in;
  }

  /**
   * The first value of {@code ber}, in definite lengths.
   *
   * @return the rewritten value, or {@code ber} itself where it is DER already
   * @throws SymbolonException if the bytes are no BER value or pass a limit
   */
  public static byte[] toDefinite(byte[] ber) {
    Ber reader = new Ber(ber);
    byte[] out = reader.value(0);
    for (int i = reader.at; i < ber.length; i++) {
      if (ber[i] != 0) {
        throw malformed("After its end at byte " + reader.at + " follows something else.");
      }
    }
    return Arrays.equals(out, ber) ? ber : out;
  }

  /** Whether a BER value of an indefinite length starts here. */
  public static boolean isIndefinite(byte[] bytes) {
    return bytes.length > 2 && (bytes[0] & 0x20) != 0 && bytes[1] == (byte) 0x80;
  }

  private byte[] value(int depth) {
    if (depth > Limits.DER_DEPTH) {
      throw malformed("Values nest deeper than " + Limits.DER_DEPTH + " at byte " + at + ".");
    }
    if (++values > Limits.BER_VALUES) {
      throw malformed("It holds more than " + Limits.BER_VALUES + " values.");
    }
    int start = at;
    int tag = octet();
    if ((tag & 0x1F) == 0x1F) {
      throw malformed("At byte " + start + " there is a tag that these formats do not use.");
    }
    boolean constructed = (tag & Tags.CONSTRUCTED) != 0;
    int length = length(constructed);
    int content = at;
    if (!constructed) {
      at += length;
      return Der.tagged(tag, Arrays.copyOfRange(in, content, at));
    }
    int end = length < 0 ? in.length : content + length;
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    boolean string = tag == (Tags.OCTET_STRING | Tags.CONSTRUCTED);
    while (true) {
      if (length < 0 && at + 2 <= in.length && in[at] == 0 && in[at + 1] == 0) {
        at += 2;
        break;
      }
      if (at >= end) {
        if (length < 0) {
          throw malformed("It breaks off inside the value that starts at byte " + start + ".");
        }
        break;
      }
      byte[] part = value(depth + 1);
      out.writeBytes(string ? octetsOf(part) : part);
    }
    if (length >= 0 && at != end) {
      throw malformed("At byte " + at + " a part is longer than the whole it belongs to.");
    }
    return Der.tagged(string ? Tags.OCTET_STRING : tag, out.toByteArray());
  }

  private static byte[] octetsOf(byte[] part) {
    return Element.read(part).octets();
  }

  private int length(boolean constructed) {
    int first = octet();
    if (first < 0x80) {
      return within(first);
    }
    int octets = first & 0x7F;
    if (octets == 0) {
      if (!constructed) {
        throw malformed("At byte " + at + " a simple value has no definite length.");
      }
      return -1;
    }
    long value = 0;
    for (int i = 0; i < octets; i++) {
      value = (value << 8) | octet();
      if (value > Integer.MAX_VALUE) {
        throw malformed("At byte " + at + " a length can't be right.");
      }
    }
    return within((int) value);
  }

  private int within(int length) {
    if (length > in.length - at) {
      throw malformed(
          "At byte "
              + at
              + " a length of "
              + length
              + " runs past the end: "
              + (in.length - at)
              + " bytes are there.");
    }
    return length;
  }

  private int octet() {
    if (at >= in.length) {
      throw malformed("It breaks off at byte " + in.length + ".");
    }
    return in[at++] & 0xFF;
  }

  private static SymbolonException malformed(String seen) {
    return SymbolonException.malformed("BER data", seen);
  }
}
