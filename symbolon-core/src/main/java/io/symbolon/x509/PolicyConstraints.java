// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import java.math.BigInteger;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * Policy constraints (RFC 5280, 4.2.1.11).
 *
 * @param requireExplicit after how many more certificates each has to name an acceptable policy
 * @param inhibitMapping after how many more certificates mappings count no more
 */
public record PolicyConstraints(OptionalInt requireExplicit, OptionalInt inhibitMapping) {
  static PolicyConstraints read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    OptionalInt explicit = number(cursor.nextIf(Tags.contextPrimitive(0)));
    OptionalInt mapping = number(cursor.nextIf(Tags.contextPrimitive(1)));
    cursor.end();
    return new PolicyConstraints(explicit, mapping);
  }

  private static OptionalInt number(Optional<Element> element) {
    if (element.isEmpty()) {
      return OptionalInt.empty();
    }
    byte[] content = element.get().content();
    if (content.length == 0 || content.length > 4 || content[0] < 0) {
      throw SymbolonException.malformed("policy constraints", "A number in them is out of range.");
    }
    return OptionalInt.of(new BigInteger(content).intValue());
  }
}
