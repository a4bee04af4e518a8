// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.oid.Oid;

/**
 * One extension (RFC 5280, 4.1.2.9).
 *
 * @param oid what it is
 * @param critical whether a reader that does not know it must refuse the certificate
 * @param value the content of its OCTET STRING; not copied, so not to be changed
 */
@SuppressWarnings("ArrayRecordComponent") // never compared
public record Extension(Oid oid, boolean critical, byte[] value) {
  static Extension read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    Oid oid = cursor.next().oid();
    boolean critical = cursor.nextIs(Tags.BOOLEAN) && cursor.next().bool();
    byte[] value = cursor.next().octets();
    cursor.end();
    return new Extension(oid, critical, value);
  }

  byte[] encoding() {
    return critical
        ? Der.sequence(Der.oid(oid), Der.bool(true), Der.octets(value))
        : Der.sequence(Der.oid(oid), Der.octets(value));
  }
}
