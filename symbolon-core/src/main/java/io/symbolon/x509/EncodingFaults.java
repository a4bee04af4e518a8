// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Faults in the encoding of certificates (X.690; RFC 5280) that authorities have made and that
 * other programs let pass: such a certificate is read, and the fault is told.
 */
final class EncodingFaults {
  private EncodingFaults() {}

  static List<String> of(Certificate certificate, Element tbs, boolean sameWriting) {
    List<String> faults = new ArrayList<>();
    if (!sameWriting) {
      faults.add(
          "Its signature algorithm is written in two ways, with and without the parameter NULL.");
    }
    if (certificate.publicKey().hasNegativeModulus()) {
      faults.add("The modulus of its key lacks the zero in front, and reads as a negative number.");
    }
    boolean odd = hasOddBoolean(tbs);
    Optional<Extension> constraints = certificate.extensions().find(Oids.BASIC_CONSTRAINTS);
    if (constraints.isPresent()) {
      try {
        Element value = Element.read(constraints.get().value());
        odd |= hasOddBoolean(value);
        if (hasMore(value)) {
          faults.add("Behind the last value of its basic constraints stands something else.");
        }
      } catch (SymbolonException e) {
        return faults; // damaged, which is told elsewhere
      }
    }
    if (odd) {
      faults.add("A BOOLEAN that is true is written as another number than 255.");
    }
    return faults;
  }

  private static boolean hasMore(Element basicConstraints) {
    Cursor cursor = basicConstraints.cursor(Tags.SEQUENCE);
    cursor.nextIf(Tags.BOOLEAN);
    cursor.nextIf(Tags.INTEGER);
    return cursor.hasNext();
  }

  private static boolean hasOddBoolean(Element element) {
    if (element.is(Tags.BOOLEAN)) {
      byte[] content = element.content();
      return content.length == 1 && content[0] != 0 && content[0] != -1;
    }
    if (!element.isConstructed()) {
      return false;
    }
    boolean odd = false;
    for (Cursor cursor = element.cursor(); cursor.hasNext(); ) {
      odd |= hasOddBoolean(cursor.next());
    }
    return odd;
  }
}
