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

  /**
   * The faults; none where a part is damaged, which is told elsewhere.
   *
   * @param extensions the SEQUENCE of extensions
   * @param sameWriting whether the signature algorithm is the same inside and outside
   */
  static List<String> of(
      Certificate certificate, Optional<Element> extensions, boolean sameWriting) {
    List<String> faults = new ArrayList<>();
    if (!sameWriting) {
      faults.add(
          "Its signature algorithm is written in two ways, with and without the parameter NULL.");
    }
    if (certificate.publicKey().hasNegativeModulus()) {
      faults.add("The modulus of its key lacks the zero in front, and reads as a negative number.");
    }
    try {
      boolean odd = extensions.isPresent() && hasOddFlag(extensions.get());
      Optional<Extension> constraints = certificate.extensions().find(Oids.BASIC_CONSTRAINTS);
      if (constraints.isPresent()) {
        Cursor values = Element.read(constraints.get().value()).cursor(Tags.SEQUENCE);
        odd |= isOdd(values.nextIf(Tags.BOOLEAN));
        values.nextIf(Tags.INTEGER);
        if (values.hasNext()) {
          faults.add("Behind the last value of its basic constraints stands something else.");
        }
      }
      if (odd) {
        faults.add("A BOOLEAN that is true is written as another number than 255.");
      }
    } catch (SymbolonException e) {
      return faults;
    }
    return faults;
  }

  private static boolean hasOddFlag(Element extensions) {
    boolean odd = false;
    for (Cursor all = extensions.cursor(Tags.SEQUENCE); all.hasNext(); ) {
      Cursor extension = all.next().cursor(Tags.SEQUENCE);
      extension.skip();
      odd |= isOdd(extension.nextIf(Tags.BOOLEAN));
    }
    return odd;
  }

  private static boolean isOdd(Optional<Element> flag) {
    return flag.map(Element::content)
        .filter(content -> content.length == 1 && content[0] != 0 && content[0] != -1)
        .isPresent();
  }
}
