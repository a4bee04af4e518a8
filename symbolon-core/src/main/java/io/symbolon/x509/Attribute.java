// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.oid.Oid;
import io.symbolon.text.Hex;
import java.nio.charset.StandardCharsets;

/**
 * One AttributeTypeAndValue of a name (RFC 5280, 4.1.2.4).
 *
 * @param type what kind of part it is
 * @param text its value, or the hexadecimal form of one that is no text
 * @param isText whether the value is a character string
 */
public record Attribute(Oid type, String text, boolean isText) {
  static Attribute read(Element element) {
    var cursor = element.cursor(io.symbolon.der.Tags.SEQUENCE);
    Oid type = cursor.next().oid();
    Element value = cursor.next();
    cursor.end();
    return value.isText()
        ? new Attribute(type, value.text(), true)
        : new Attribute(type, "#" + Hex.of(value.encoding()), false);
  }

  /** DirectoryString as UTF8String, but country codes and the like in the type that is theirs. */
  byte[] encoding() {
    byte[] value;
    if (!isText) {
      value = java.util.HexFormat.of().parseHex(text.substring(1));
    } else if ((type.equals(Oids.C) || type.equals(Oids.SERIAL_NUMBER))
        && text.chars().allMatch(Attribute::isPrintable)) {
      value = Der.printable(text);
    } else if ((type.equals(Oids.EMAIL) || type.equals(Oids.DC))
        && text.chars().allMatch(c -> c < 0x80)) {
      value = Der.ia5(text);
    } else {
      value = Der.utf8(text);
    }
    return Der.sequence(Der.oid(type), value);
  }

  /** The characters of a PrintableString (X.680, 41.4). */
  private static boolean isPrintable(int c) {
    return (c >= 'a' && c <= 'z')
        || (c >= 'A' && c <= 'Z')
        || (c >= '0' && c <= '9')
        || " '()+,-./:=?".indexOf(c) >= 0;
  }

  /** The value as RFC 5280, 7.1 compares it: without case and without needless spaces. */
  String comparable() {
    if (!isText) {
      return text;
    }
    StringBuilder folded = new StringBuilder(text.length());
    boolean space = false;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (Character.isWhitespace(c)) {
        space = true;
        continue;
      }
      if (space && !folded.isEmpty()) {
        folded.append(' ');
      }
      space = false;
      folded.append(Character.toLowerCase(Character.toUpperCase(c)));
    }
    return folded.toString();
  }

  /** The text form (RFC 4514, 2.3 and 2.4); what would not show is escaped as octets. */
  @Override
  public String toString() {
    String name = AttributeTypes.shortName(type).orElseGet(type::toString);
    return name + "=" + (isText ? escaped() : text);
  }

  private String escaped() {
    StringBuilder out = new StringBuilder(text.length() + 8);
    int at = 0;
    while (at < text.length()) {
      int point = text.codePointAt(at);
      boolean first = at == 0;
      at += Character.charCount(point);
      boolean last = at == text.length();
      if (",+\"\\<>;=".indexOf(point) >= 0
          || (first && (point == ' ' || point == '#'))
          || (last && point == ' ')) {
        out.append('\\').appendCodePoint(point);
      } else {
        String one = Character.toString(point);
        if (io.symbolon.text.VisibleText.of(one).equals(one)) {
          out.append(one);
        } else {
          for (byte octet : one.getBytes(StandardCharsets.UTF_8)) {
            out.append(String.format("\\%02X", octet));
          }
        }
      }
    }
    return out.toString();
  }
}
