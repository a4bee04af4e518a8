// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.oid.Oid;

/**
 * The parameters that PBES1 (RFC 8018, A.3) and the schemes of PKCS#12 (RFC 7292, C) have in
 * common.
 *
 * @param rounds how often the digest is applied
 */
@SuppressWarnings("ArrayRecordComponent") // never compared
record SaltAndRounds(byte[] salt, int rounds) {
  static SaltAndRounds read(Element parameters) {
    Cursor cursor = parameters.cursor(Tags.SEQUENCE);
    return new SaltAndRounds(cursor.next().octets(), Iterations.read(cursor.next()));
  }

  /** The algorithm identifier of a scheme with these parameters. */
  byte[] encoding(Oid scheme) {
    return Der.sequence(Der.oid(scheme), Der.sequence(Der.octets(salt), Der.integer(rounds)));
  }
}
