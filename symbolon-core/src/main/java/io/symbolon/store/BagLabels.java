// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import io.symbolon.text.Hex;
import java.util.Optional;

/**
 * The attributes of a bag that mean something here (RFC 7292, 4.2; RFC 2985, 5.5).
 *
 * @param alias the friendly name
 * @param localKeyId the octets, in hexadecimal, that a key and its certificate share
 * @param trusted whether Java's mark of a trusted certificate is there
 */
public record BagLabels(Optional<String> alias, Optional<String> localKeyId, boolean trusted) {
  static final BagLabels NONE = new BagLabels(Optional.empty(), Optional.empty(), false);

  static BagLabels read(Optional<Element> attributeSet) {
    if (attributeSet.isEmpty()) {
      return NONE;
    }
    Optional<String> alias = Optional.empty();
    Optional<String> localKeyId = Optional.empty();
    boolean trusted = false;
    Cursor attributes = attributeSet.get().cursor(Tags.SET);
    while (attributes.hasNext()) {
      Cursor attribute = attributes.next().cursor(Tags.SEQUENCE);
      Oid type = attribute.next().oid();
      Cursor values = attribute.next().cursor(Tags.SET);
      if (!values.hasNext()) {
        continue;
      }
      Element value = values.next();
      try {
        if (type.equals(Oids.FRIENDLY_NAME)) {
          alias = Optional.of(value.text());
        } else if (type.equals(Oids.LOCAL_KEY_ID)) {
          localKeyId = Optional.of(Hex.of(value.octets()));
        } else if (type.equals(Oids.TRUSTED_KEY_USAGE)) {
          trusted = true;
        }
      } catch (SymbolonException e) {
        // A label of another type than its standard says is worth no failure.
      }
    }
    return new BagLabels(alias, localKeyId, trusted);
  }
}
