// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.key.SubjectPublicKeyInfo;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;

/** Key identifiers: the leftmost 160 bits of the key's SHA-256 (RFC 7093, 2, method 1). */
final class KeyIdentifiers {
  private static final int OCTETS = 20;

  private KeyIdentifiers() {}

  static byte[] of(SubjectPublicKeyInfo key) {
    try {
      byte[] digest = MessageDigest.getInstance("SHA-256").digest(key.keyOctets());
      return Arrays.copyOf(digest, OCTETS);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  /** The identifier that an issuer's own certificate gives its key, which may be another. */
  static byte[] of(Certificate issuer) {
    return issuer.extensions().subjectKeyIdentifier().orElseGet(() -> of(issuer.publicKey()));
  }
}
