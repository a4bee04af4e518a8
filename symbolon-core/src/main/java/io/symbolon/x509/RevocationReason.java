// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** Why a certificate was revoked (RFC 5280, 5.3.1). */
public enum RevocationReason {
  /** Not said. */
  UNSPECIFIED(0),
  /** The private key is in other hands, or may be. */
  KEY_COMPROMISE(1),
  /** The private key of the authority is. */
  AUTHORITY_COMPROMISE(2),
  /** What the certificate says of its subject is no longer so. */
  AFFILIATION_CHANGED(3),
  /** Another certificate takes its place. */
  SUPERSEDED(4),
  /** It is no longer needed. */
  CESSATION_OF_OPERATION(5),
  /** Revoked for the time being. */
  CERTIFICATE_HOLD(6),
  /** The right to it was withdrawn. */
  PRIVILEGE_WITHDRAWN(9);

  private final int code;

  RevocationReason(int code) {
    this.code = code;
  }

  /** {@return its number in a list (RFC 5280, 5.3.1)} */
  public int code() {
    return code;
  }

  /**
   * Such as {@code key-compromise}.
   *
   * @return the text
   */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** {@return the reason of this word} */
  public static Optional<RevocationReason> ofWord(String word) {
    return Arrays.stream(values()).filter(reason -> reason.word().equals(word)).findFirst();
  }

  static RevocationReason ofCode(int code) {
    return Arrays.stream(values())
        .filter(reason -> reason.code == code)
        .findFirst()
        .orElse(UNSPECIFIED);
  }
}
