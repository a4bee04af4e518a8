// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;

/**
 * What private keys of ML-KEM (FIPS 203) and ML-DSA (FIPS 204) carry of their public halves, found
 * without any arithmetic, so that they can be paired where the running Java lacks the algorithm.
 * Only an expanded key carries something; a seed alone does not.
 */
final class LatticeKey {
  /** Octets of the expanded key, of what stands in front of the public key in it, and of that. */
  private record Kem(int expanded, int offset, int length) {}

  private static final Map<Oid, Kem> KEM =
      Map.of(
          Oids.ML_KEM_512, new Kem(1632, 768, 800),
          Oids.ML_KEM_768, new Kem(2400, 1152, 1184),
          Oids.ML_KEM_1024, new Kem(3168, 1536, 1568));
  private static final Map<Oid, Integer> DSA =
      Map.of(Oids.ML_DSA_44, 2560, Oids.ML_DSA_65, 4032, Oids.ML_DSA_87, 4896);
  private static final int RHO = 32; // octets that a private and a public key both begin with

  private LatticeKey() {}

  /** The public key inside an expanded ML-KEM key (FIPS 203, 7.1). */
  static Optional<byte[]> kemPublicKey(Oid algorithm, Element privateKey) {
    Kem sizes = KEM.get(algorithm);
    return sizes == null
        ? Optional.empty()
        : expanded(privateKey.content(), sizes.expanded)
            .map(key -> Arrays.copyOfRange(key, sizes.offset, sizes.offset + sizes.length));
  }

  /** The octets that an expanded ML-DSA key and its public key both begin with (FIPS 204, 7.2). */
  static Optional<byte[]> dsaSeed(Oid algorithm, Element privateKey) {
    Integer size = DSA.get(algorithm);
    return size == null
        ? Optional.empty()
        : expanded(privateKey.content(), size).map(key -> Arrays.copyOf(key, RHO));
  }

  /** The expanded key: bare, in an OCTET STRING, or behind the seed in a SEQUENCE. */
  private static Optional<byte[]> expanded(byte[] content, int size) {
    if (content.length == size) {
      return Optional.of(content);
    }
    try {
      Element element = Element.read(content);
      if (element.is(Tags.SEQUENCE)) {
        Cursor cursor = element.cursor();
        cursor.skip();
        element = cursor.next();
      }
      return element.is(Tags.OCTET_STRING) && element.length() == size
          ? Optional.of(element.octets())
          : Optional.empty();
    } catch (SymbolonException e) {
      return Optional.empty(); // a seed, or a form that is not known
    }
  }
}
