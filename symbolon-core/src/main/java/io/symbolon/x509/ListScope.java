// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;

/**
 * Which certificates a revocation list is about: its issuing distribution point (RFC 5280, 5.2.5).
 *
 * @param onlyEndEntities only end-entity certificates
 * @param onlyAuthorities only authorities' certificates
 * @param onlySomeReasons only some reasons of revocation
 * @param indirect other authorities' certificates as well
 * @param onlyAttributes only attribute certificates
 */
public record ListScope(
    boolean onlyEndEntities,
    boolean onlyAuthorities,
    boolean onlySomeReasons,
    boolean indirect,
    boolean onlyAttributes) {
  static ListScope read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    cursor.nextIf(Tags.context(0)); // where the list is to be had
    boolean endEntities = flag(cursor, 1);
    boolean authorities = flag(cursor, 2);
    boolean reasons = cursor.nextIf(Tags.contextPrimitive(3)).isPresent();
    boolean indirect = flag(cursor, 4);
    boolean attributes = flag(cursor, 5);
    cursor.end();
    return new ListScope(endEntities, authorities, reasons, indirect, attributes);
  }

  private static boolean flag(Cursor cursor, int number) {
    return cursor
        .nextIf(Tags.contextPrimitive(number))
        .map(element -> element.length() > 0 && element.content()[0] != 0)
        .orElse(false);
  }
}
