// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import java.util.OptionalInt;

/**
 * Basic constraints (RFC 5280, 4.2.1.9).
 *
 * @param authority whether the certificate may sign others
 * @param pathLength how many intermediates may follow below it
 */
public record BasicConstraints(boolean authority, OptionalInt pathLength) {
  static BasicConstraints read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    boolean authority = cursor.nextIs(Tags.BOOLEAN) && cursor.next().bool();
    OptionalInt pathLength = OptionalInt.empty();
    if (cursor.hasNext()) {
      int length = cursor.next().smallInteger();
      if (length < 0) {
        throw SymbolonException.malformed("basic constraints", "The path length is negative.");
      }
      pathLength = OptionalInt.of(length);
    }
    // What stands behind is passed over, as by others: EncodingFaults tells of it.
    return new BasicConstraints(authority, pathLength);
  }

  Extension toExtension() {
    byte[] value =
        !authority
            ? Der.sequence()
            : pathLength.isPresent()
                ? Der.sequence(Der.bool(true), Der.integer(pathLength.getAsInt()))
                : Der.sequence(Der.bool(true));
    return new Extension(Oids.BASIC_CONSTRAINTS, true, value);
  }
}
