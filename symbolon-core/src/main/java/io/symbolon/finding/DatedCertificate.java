// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import java.security.cert.X509Certificate;
import java.time.Instant;

/** A certificate that a finding speaks of. */
public interface DatedCertificate {
  /** The fingerprint: SHA-256 over the whole, in hexadecimal. */
  String sha256();

  /** When it begins to be valid. */
  Instant notBefore();

  /** When it ceases to be valid. */
  Instant notAfter();

  /** The certificate as the platform knows it. */
  X509Certificate toX509Certificate();
}
