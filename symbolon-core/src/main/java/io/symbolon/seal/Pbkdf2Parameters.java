// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * PBKDF2-params (RFC 8018, A.2).
 *
 * @param keyLength octets of the key, or 0 where it is left to the cipher
 */
@SuppressWarnings("ArrayRecordComponent") // never compared
record Pbkdf2Parameters(byte[] salt, int rounds, int keyLength, Oid hmac) {
  static Pbkdf2Parameters read(Element algorithmIdentifier) {
    Cursor algorithm = algorithmIdentifier.cursor(Tags.SEQUENCE);
    Oid oid = algorithm.next().oid();
    if (!oid.equals(Oids.PBKDF2)) {
      throw Digests.Unsupported.scheme(Oids.nameOrDotted(oid));
    }
    Cursor cursor = algorithm.next().cursor(Tags.SEQUENCE);
    byte[] salt = cursor.next().octets();
    int rounds = Iterations.read(cursor.next());
    int keyLength = cursor.nextIs(Tags.INTEGER) ? cursor.next().smallInteger() : 0;
    if (keyLength < 0 || keyLength > Limits.DERIVED_KEY_OCTETS) {
      throw SymbolonException.malformed(
          "protected content", "It asks for a key of " + keyLength + " octets.");
    }
    Oid hmac = cursor.nextIs(Tags.SEQUENCE) ? cursor.next().cursor().next().oid() : Oids.HMAC_SHA1;
    Digests.hmac(hmac);
    return new Pbkdf2Parameters(salt, rounds, keyLength, hmac);
  }

  /** What deriving so many octets costs. */
  long work(int length) {
    String name = Digests.hmac(hmac);
    int digest =
        name.contains("512/224") || name.endsWith("224")
            ? 28
            : name.contains("512/256") || name.endsWith("256")
                ? 32
                : name.endsWith("384") ? 48 : name.endsWith("512") ? 64 : 20;
    return Iterations.work(rounds, length, digest);
  }

  byte[] derive(Secret secret, int length) {
    if (keyLength != 0 && keyLength != length) {
      throw SymbolonException.malformed(
          "protected content",
          "It asks for a key of " + keyLength + " octets where " + length + " are needed.");
    }
    String name = Digests.hmac(hmac);
    return secret.derived(
        "PBKDF2 " + name,
        salt,
        rounds,
        length,
        () -> {
          byte[] password = secret.revealUtf8();
          try {
            return Pbkdf2.derive(name, password, salt, rounds, length);
          } finally {
            Arrays.fill(password, (byte) 0);
          }
        });
  }

  byte[] encoding() {
    List<byte[]> parts = new ArrayList<>();
    parts.add(Der.octets(salt));
    parts.add(Der.integer(rounds));
    if (keyLength > 0) {
      parts.add(Der.integer(keyLength));
    }
    if (!hmac.equals(Oids.HMAC_SHA1)) {
      parts.add(Der.sequence(Der.oid(hmac), Der.nul()));
    }
    return Der.sequence(Der.oid(Oids.PBKDF2), Der.sequence(parts));
  }
}
