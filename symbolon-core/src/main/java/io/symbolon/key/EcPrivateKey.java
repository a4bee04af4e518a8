package io.symbolon.key;

import io.symbolon.SymbolonException;
import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import java.util.Optional;

/**
 * What an ECPrivateKey (RFC 5915, 3) says besides the key.
 *
 * @param parameters the curve, mostly a named one
 * @param publicPoint the public point
 */
record EcPrivateKey(Optional<Element> parameters, Optional<byte[]> publicPoint) {
  static EcPrivateKey read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    int version = cursor.next().smallInteger();
    if (version != 1) {
      throw SymbolonException.malformed(
          "EC private key", "Its version is " + version + " instead of 1.");
    }
    cursor.next(Tags.OCTET_STRING);
    Optional<Element> parameters = cursor.nextIf(Tags.context(0)).map(Element::only);
    Optional<byte[]> point = cursor.nextIf(Tags.context(1)).map(bits -> bits.only().bitOctets());
    cursor.end();
    return new EcPrivateKey(parameters, point);
  }
}
