// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import java.util.Arrays;
import java.util.Optional;

/**
 * What an ECPrivateKey (RFC 5915, 3) says besides the key.
 *
 * @param parameters the curve, mostly a named one
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

  /**
   * The same key without the curve, as PKCS#8 carries it: its algorithm names the curve already.
   */
  static byte[] withoutParameters(Element key) {
    return rewritten(key, new byte[0], point(key));
  }

  /** The same key without curve and public point: what is secret about it. */
  static byte[] numberAlone(Element key) {
    return rewritten(key, new byte[0], new byte[0]);
  }

  /** The same key with its public point (RFC 5915, 3), which other programs look for there. */
  static byte[] withPoint(Element key, byte[] point) {
    byte[] parameters =
        read(key).parameters().map(curve -> Der.context(0, curve.encoding())).orElse(new byte[0]);
    return rewritten(key, parameters, Der.context(1, Der.bits(point)));
  }

  /** The same key with its curve, as it has to stand where no algorithm names it. */
  static byte[] withParameters(Element key, byte[] parameters) {
    return rewritten(key, Der.context(0, parameters), point(key));
  }

  private static byte[] point(Element key) {
    Cursor cursor = key.cursor(Tags.SEQUENCE);
    cursor.skip();
    cursor.skip();
    cursor.nextIf(Tags.context(0));
    return cursor.nextIf(Tags.context(1)).map(Element::encoding).orElse(new byte[0]);
  }

  private static byte[] rewritten(Element key, byte[] parameters, byte[] point) {
    Cursor cursor = key.cursor(Tags.SEQUENCE);
    byte[] version = cursor.next().encoding();
    byte[] number = cursor.next().encoding();
    try {
      return Der.tagged(Tags.SEQUENCE, version, number, parameters, point);
    } finally {
      Arrays.fill(number, (byte) 0);
    }
  }
}
