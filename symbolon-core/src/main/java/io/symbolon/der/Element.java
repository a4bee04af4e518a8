// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Arrays;

/**
 * One ASN.1 value in DER: a view into the bytes it was read from, which are neither copied nor
 * decoded until asked for. Reading is strict (X.690, 10 and 11): definite lengths in their shortest
 * form, and no octet missing or left over. The bytes must not be changed while an element views
 * them.
 */
public final class Element {
  private final byte[] bytes;
  private final int tag;
  private final int start;
  private final int content;
  private final int end;
  private final int depth;

  private Element(byte[] bytes, int tag, int start, int content, int end, int depth) {
    this.bytes = bytes;
    this.tag = tag;
    this.start = start;
    this.content = content;
    this.end = end;
    this.depth = depth;
  }

  /**
   * The one value that {@code der} holds.
   *
   * @throws SymbolonException if the bytes are not exactly one DER value
   */
  public static Element read(byte[] der) {
    Element element = readAt(der, 0, der.length, 0);
    if (element.end != der.length) {
      throw malformed(
          "After its end at byte "
              + element.end
              + " follow "
              + (der.length - element.end)
              + " more.");
    }
    return element;
  }

  /**
   * The first value in {@code bytes} from {@code offset}; what follows it is left alone.
   *
   * @throws SymbolonException if no whole DER value starts there
   */
  public static Element readFirst(byte[] bytes, int offset) {
    return readAt(bytes, offset, bytes.length, 0);
  }

  static Element readAt(byte[] bytes, int start, int limit, int depth) {
    if (depth > Limits.DER_DEPTH) {
      throw malformed("At byte " + start + " values nest deeper than " + Limits.DER_DEPTH + ".");
    }
    int at = start;
    if (at + 2 > limit) {
      throw malformed("It breaks off at byte " + limit + ".");
    }
    int tag = bytes[at++] & 0xFF;
    if ((tag & 0x1F) == 0x1F) {
      int number = 0;
      int octet;
      do {
        if (at >= limit || number > 0x1FFFF) {
          throw malformed("At byte " + start + " there is no tag that can be read.");
        }
        octet = bytes[at++] & 0xFF;
        number = (number << 7) | (octet & 0x7F);
      } while ((octet & 0x80) != 0);
      tag = (tag << 24) | number;
    }
    if (at >= limit) {
      throw malformed("It breaks off at byte " + limit + ".");
    }
    int length = bytes[at++] & 0xFF;
    if (length >= 0x80) {
      int octets = length & 0x7F;
      if (octets == 0) {
        throw malformed("At byte " + start + " a length is indefinite, which DER forbids.");
      }
      if (octets > 4 || at + octets > limit) {
        throw malformed("At byte " + start + " a length can't be right.");
      }
      long value = 0;
      for (int i = 0; i < octets; i++) {
        value = (value << 8) | (bytes[at++] & 0xFF);
      }
      if (value < 0x80 || (octets > 1 && value >>> (8 * (octets - 1)) == 0)) {
        throw malformed("At byte " + start + " a length is not in its shortest form.");
      }
      if (value > limit - at) {
        throw malformed(
            "At byte "
                + start
                + " a length of "
                + value
                + " runs past the end: "
                + (limit - at)
                + " bytes are there.");
      }
      length = (int) value;
    } else if (length > limit - at) {
      throw malformed(
          "At byte "
              + start
              + " a length of "
              + length
              + " runs past the end: "
              + (limit - at)
              + " bytes are there.");
    }
    return new Element(bytes, tag, start, at, at + length, depth);
  }

  private static SymbolonException malformed(String seen) {
    return SymbolonException.malformed("DER data", seen);
  }

  /** The identifier octet; compare it with {@link Tags}. */
  public int tag() {
    return tag;
  }

  /** Whether the identifier octet is {@code tag}. */
  public boolean is(int tag) {
    return this.tag == tag;
  }

  /** Whether the value is constructed from others. */
  public boolean isConstructed() {
    return Tags.isConstructed(tag);
  }

  /** Where the value starts in the bytes it was read from. */
  public int offset() {
    return start;
  }

  /** Where the value ends in the bytes it was read from: the first offset behind it. */
  public int endOffset() {
    return end;
  }

  /** The number of content octets. */
  public int length() {
    return end - content;
  }

  /** The whole encoding, tag and length included: a copy. */
  public byte[] encoding() {
    return Arrays.copyOfRange(bytes, start, end);
  }

  /** The content octets: a copy. */
  public byte[] content() {
    return Arrays.copyOfRange(bytes, content, end);
  }

  /** Whether the whole encoding equals another's. */
  public boolean sameEncoding(Element other) {
    return Arrays.equals(bytes, start, end, other.bytes, other.start, other.end);
  }

  /**
   * The values inside this one, read one after the other.
   *
   * @throws SymbolonException if this value is primitive
   */
  public Cursor cursor() {
    if (!isConstructed()) {
      throw malformed(
          "At byte " + start + " a structure should stand, but there is " + Tags.name(tag) + ".");
    }
    return new Cursor(bytes, content, end, depth + 1);
  }

  /** The values inside this one, which must be of type {@code tag}. */
  public Cursor cursor(int tag) {
    return expect(tag).cursor();
  }

  /** The one value inside this one, as under an explicit tag. */
  public Element only() {
    Cursor cursor = cursor();
    Element inner = cursor.next();
    cursor.end();
    return inner;
  }

  /**
   * This element if it has the tag given.
   *
   * @throws SymbolonException if it has another
   */
  public Element expect(int tag) {
    if (this.tag != tag) {
      throw malformed(
          "At byte "
              + start
              + " there is "
              + Tags.name(this.tag)
              + " where "
              + Tags.name(tag)
              + " should be.");
    }
    return this;
  }

  /** The same content under another tag: how an IMPLICIT type is read. */
  public Element as(int tag) {
    return new Element(bytes, tag, start, content, end, depth);
  }

  /** The value of an INTEGER, of any size, in its shortest form (X.690, 8.3). */
  public BigInteger integer() {
    expect(Tags.INTEGER);
    checkInteger();
    return new BigInteger(bytes, content, end - content);
  }

  /**
   * The value of an INTEGER that can't be negative: programs have left out the zero in front of a
   * first octet above 127.
   */
  public BigInteger unsigned() {
    expect(Tags.INTEGER);
    if (isNegative()) {
      return new BigInteger(1, bytes, content, end - content);
    }
    return integer();
  }

  /** Whether this INTEGER begins as a negative number does. */
  public boolean isNegative() {
    return end > content && bytes[content] < 0;
  }

  /**
   * The value of a small INTEGER.
   *
   * @throws SymbolonException if it does not fit an int
   */
  public int smallInteger() {
    expect(Tags.INTEGER);
    checkInteger();
    if (end - content > 4) {
      throw malformed("At byte " + start + " a number is larger than it can sensibly be.");
    }
    int value = bytes[content];
    for (int i = content + 1; i < end; i++) {
      value = (value << 8) | (bytes[i] & 0xFF);
    }
    return value;
  }

  private void checkInteger() {
    if (end == content) {
      throw malformed("At byte " + start + " a number has no octets.");
    }
    if (end - content > 1) {
      int first = bytes[content];
      if ((first == 0 && bytes[content + 1] >= 0) || (first == -1 && bytes[content + 1] < 0)) {
        throw malformed("At byte " + start + " a number is not in its shortest form.");
      }
    }
  }

  /**
   * The value of a BOOLEAN. In DER, true is 255 (X.690, 11.1); authorities have written 1, which is
   * true in BER and for every other program, so it is here.
   */
  public boolean bool() {
    expect(Tags.BOOLEAN);
    if (end - content != 1) {
      throw malformed("At byte " + start + " a BOOLEAN is neither true nor false.");
    }
    return bytes[content] != 0;
  }

  /** The object identifier. */
  public Oid oid() {
    expect(Tags.OID);
    return Oid.ofContent(bytes, content, end);
  }

  /** Whether this is the object identifier given; faster than reading it. */
  public boolean isOid(Oid oid) {
    return tag == Tags.OID && oid.hasContent(bytes, content, end);
  }

  /** The octets of an OCTET STRING: a copy. */
  public byte[] octets() {
    return expect(Tags.OCTET_STRING).content();
  }

  /** The DER value inside an OCTET STRING. */
  public Element octetsAsElement() {
    expect(Tags.OCTET_STRING);
    Element inner = readAt(bytes, content, end, depth + 1);
    if (inner.end != end) {
      throw malformed("At byte " + inner.end + " octets are left over.");
    }
    return inner;
  }

  /** The octets of a BIT STRING whose number of bits is a multiple of eight: a copy. */
  public byte[] bitOctets() {
    expect(Tags.BIT_STRING);
    if (end == content || bytes[content] != 0) {
      throw malformed("At byte " + start + " a BIT STRING is not made of whole octets.");
    }
    return Arrays.copyOfRange(bytes, content + 1, end);
  }

  /** The DER value inside a BIT STRING. */
  public Element bitsAsElement() {
    expect(Tags.BIT_STRING);
    if (end == content || bytes[content] != 0) {
      throw malformed("At byte " + start + " a BIT STRING is not made of whole octets.");
    }
    Element inner = readAt(bytes, content + 1, end, depth + 1);
    if (inner.end != end) {
      throw malformed("At byte " + inner.end + " octets are left over.");
    }
    return inner;
  }

  /** The named bits of a BIT STRING: bit n of the result is named bit n (X.680, 22.7). */
  public int namedBits() {
    expect(Tags.BIT_STRING);
    if (end == content || bytes[content] < 0 || bytes[content] > 7) {
      throw malformed("At byte " + start + " a BIT STRING does not say how many bits it has.");
    }
    int bits = 0;
    for (int i = content + 1; i < end && i < content + 5; i++) {
      for (int bit = 0; bit < 8; bit++) {
        if ((bytes[i] & (0x80 >> bit)) != 0) {
          bits |= 1 << (8 * (i - content - 1) + bit);
        }
      }
    }
    return bits;
  }

  /** Whether this is one of the character string types. */
  public boolean isText() {
    return switch (tag) {
      case Tags.UTF8_STRING,
          Tags.NUMERIC_STRING,
          Tags.PRINTABLE_STRING,
          Tags.TELETEX_STRING,
          Tags.IA5_STRING,
          Tags.VISIBLE_STRING,
          Tags.UNIVERSAL_STRING,
          Tags.BMP_STRING ->
          true;
      default -> false;
    };
  }

  /**
   * The text of any character string type. TeletexString is read as Latin-1, as issuers use it.
   *
   * @throws SymbolonException if this is no character string
   */
  public String text() {
    return switch (tag) {
      case Tags.UTF8_STRING -> new String(bytes, content, end - content, StandardCharsets.UTF_8);
      case Tags.NUMERIC_STRING,
          Tags.PRINTABLE_STRING,
          Tags.TELETEX_STRING,
          Tags.IA5_STRING,
          Tags.VISIBLE_STRING ->
          new String(bytes, content, end - content, StandardCharsets.ISO_8859_1);
      case Tags.BMP_STRING -> new String(bytes, content, end - content, StandardCharsets.UTF_16BE);
      case Tags.UNIVERSAL_STRING -> universalText();
      default ->
          throw malformed("At byte " + start + " there is " + Tags.name(tag) + " instead of text.");
    };
  }

  private String universalText() {
    StringBuilder text = new StringBuilder();
    for (int i = content; i + 3 < end; i += 4) {
      int point =
          (bytes[i] & 0xFF) << 24
              | (bytes[i + 1] & 0xFF) << 16
              | (bytes[i + 2] & 0xFF) << 8
              | (bytes[i + 3] & 0xFF);
      text.appendCodePoint(Character.isValidCodePoint(point) ? point : 0xFFFD);
    }
    return text.toString();
  }

  /** The time of a UTCTime or GeneralizedTime, as RFC 5280, 4.1.2.5 profiles them. */
  public Instant time() {
    return Times.read(tag, bytes, content, end);
  }
}
