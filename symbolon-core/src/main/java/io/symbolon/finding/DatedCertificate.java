// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import java.security.cert.X509Certificate;
import java.time.Instant;

/** A certificate that a finding speaks of. */
public interface DatedCertificate {
  /** {@return the fingerprint: SHA-256 over the whole, in hexadecimal} */
  String sha256();

  /**
   * When it begins to be valid.
   *
   * @return the instant
   */
  Instant notBefore();

  /**
   * When it ceases to be valid.
   *
   * @return the instant
   */
  Instant notAfter();

  /** {@return the certificate as the platform knows it} */
  X509Certificate toX509Certificate();
}
