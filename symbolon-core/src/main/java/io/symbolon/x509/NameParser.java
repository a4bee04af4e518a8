// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Element;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;

/**
 * Parses the text form of names (RFC 4514, 3). Spaces around {@code ,}, {@code +}, {@code =} are
 * let pass.
 */
final class NameParser {
  private final String text;
  private int at;

  private NameParser(String text) {
    this.text = text;
  }

  static List<List<Attribute>> parse(String text) {
    NameParser parser = new NameParser(text);
    List<List<Attribute>> parts = new ArrayList<>();
    parser.spaces();
    if (parser.at == text.length()) {
      return parts;
    }
    while (true) {
      List<Attribute> part = new ArrayList<>();
      do {
        part.add(parser.attribute());
      } while (parser.take('+'));
      parts.add(part);
      if (parser.at == text.length()) {
        return parts;
      }
      if (!parser.take(',') && !parser.take(';')) {
        throw parser.wrong("there is something after the value");
      }
    }
  }

  private Attribute attribute() {
    spaces();
    int start = at;
    while (at < text.length() && isNameCharacter(text.charAt(at))) {
      at++;
    }
    String name = text.substring(start, at);
    spaces();
    if (name.isEmpty() || !take('=')) {
      throw wrong("a part needs the form NAME=value");
    }
    Oid type = type(name);
    spaces();
    if (at < text.length() && text.charAt(at) == '#') {
      return new Attribute(type, hexValue(), false);
    }
    String value = value();
    if (value.isEmpty()) {
      throw wrong("the value of " + name + " is empty");
    }
    return new Attribute(type, value, true);
  }

  private Oid type(String name) {
    if (Character.isDigit(name.charAt(0))) {
      try {
        return Oid.of(name);
      } catch (IllegalArgumentException e) {
        throw wrong("'" + name + "' is not an object identifier");
      }
    }
    return AttributeTypes.byName(name)
        .orElseThrow(
            () -> wrong("'" + VisibleText.of(name) + "' is not one of " + AttributeTypes.known()));
  }

  private String hexValue() {
    int start = at++;
    while (at < text.length() && Character.digit(text.charAt(at), 16) >= 0) {
      at++;
    }
    String hex = text.substring(start, at);
    spaces();
    try {
      Element unused = Element.read(HexFormat.of().parseHex(hex.substring(1)));
    } catch (IllegalArgumentException | SymbolonException e) {
      throw wrong("the value behind # is no DER value in hexadecimal");
    }
    return hex.toLowerCase(java.util.Locale.ROOT);
  }

  private String value() {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    int keep = 0; // trailing spaces count only where they were escaped
    boolean quoted = take('"');
    while (at < text.length()) {
      char c = text.charAt(at);
      if (quoted && c == '"') {
        at++;
        quoted = false;
        keep = out.size();
        spaces();
        break;
      }
      if (!quoted && (c == ',' || c == '+' || c == ';')) {
        break;
      }
      if (c == '\\') {
        at++;
        escape(out);
        keep = out.size();
      } else {
        if (!quoted && (c == '"' || c == '<' || c == '>')) {
          throw wrong("the character " + c + " must be written \\" + c);
        }
        int point = text.codePointAt(at);
        out.writeBytes(Character.toString(point).getBytes(StandardCharsets.UTF_8));
        at += Character.charCount(point);
        if (quoted || point != ' ') {
          keep = out.size();
        }
      }
    }
    if (quoted) {
      throw wrong("a quotation mark is not closed");
    }
    try {
      return StandardCharsets.UTF_8
          .newDecoder()
          .decode(ByteBuffer.wrap(out.toByteArray(), 0, keep))
          .toString();
    } catch (CharacterCodingException e) {
      throw wrong("the escaped octets are no UTF-8");
    }
  }

  private void escape(ByteArrayOutputStream out) {
    if (at >= text.length()) {
      throw wrong("nothing follows the last backslash");
    }
    char c = text.charAt(at);
    if (at + 1 < text.length()
        && Character.digit(c, 16) >= 0
        && Character.digit(text.charAt(at + 1), 16) >= 0) {
      out.write(Integer.parseInt(text.substring(at, at + 2), 16));
      at += 2;
    } else if (" \"#+,;<=>\\".indexOf(c) >= 0) {
      out.write(c);
      at++;
    } else {
      throw wrong("a backslash stands before " + c + ", which needs none");
    }
  }

  private static boolean isNameCharacter(char c) {
    return (c >= 'a' && c <= 'z')
        || (c >= 'A' && c <= 'Z')
        || (c >= '0' && c <= '9')
        || c == '-'
        || c == '.';
  }

  private void spaces() {
    while (at < text.length() && text.charAt(at) == ' ') {
      at++;
    }
  }

  private boolean take(char c) {
    if (at < text.length() && text.charAt(at) == c) {
      at++;
      return true;
    }
    return false;
  }

  private SymbolonException wrong(String why) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "'" + VisibleText.of(text) + "' is not a distinguished name.",
        "At character " + (at + 1) + ": " + why + ".",
        "Write it like CN=ingest.lanternfish.example,O=Lanternfish Observatory,C=IS;"
            + " a comma inside a value is written \\,");
  }
}
