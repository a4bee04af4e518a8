// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import java.util.EnumSet;
import java.util.Set;

/** The named bits of key usage (RFC 5280, 4.2.1.3), in their order. */
public enum KeyUsage {
  /** digitalSignature: every TLS 1.3 handshake needs it. */
  DIGITAL_SIGNATURE(0, "digital signature"),
  /** nonRepudiation, also called contentCommitment. */
  CONTENT_COMMITMENT(1, "content commitment"),
  /** keyEncipherment: the RSA key exchange of TLS 1.2 and before. */
  KEY_ENCIPHERMENT(2, "key encipherment"),
  /** dataEncipherment. */
  DATA_ENCIPHERMENT(3, "data encipherment"),
  /** keyAgreement. */
  KEY_AGREEMENT(4, "key agreement"),
  /** keyCertSign: authorities only. */
  CERTIFICATE_SIGNING(5, "certificate signing"),
  /** cRLSign. */
  CRL_SIGNING(6, "revocation list signing"),
  /** encipherOnly. */
  ENCIPHER_ONLY(7, "encipher only"),
  /** decipherOnly. */
  DECIPHER_ONLY(8, "decipher only");

  private final int bit;
  private final String title;

  KeyUsage(int bit, String title) {
    this.bit = bit;
    this.title = title;
  }

  /** {@return the name people know it by} */
  public String title() {
    return title;
  }

  static Set<KeyUsage> of(int bits) {
    Set<KeyUsage> usages = EnumSet.noneOf(KeyUsage.class);
    for (KeyUsage usage : values()) {
      if ((bits & (1 << usage.bit)) != 0) {
        usages.add(usage);
      }
    }
    return usages;
  }

  static Extension toExtension(Set<KeyUsage> usages) {
    int bits = 0;
    for (KeyUsage usage : usages) {
      bits |= 1 << usage.bit;
    }
    return new Extension(Oids.KEY_USAGE, true, Der.namedBits(bits));
  }
}
