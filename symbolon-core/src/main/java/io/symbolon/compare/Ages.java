// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import io.symbolon.survey.Holding;
import java.time.Instant;

/** Which of two things of one kind is the newer one. */
final class Ages {
  private Ages() {}

  /** When it was made; the same for all things that do not say it. */
  static Instant of(Holding holding) {
    if (holding instanceof Holding.Cert cert) {
      return cert.certificate().notBefore();
    }
    return holding instanceof Holding.Crl crl ? crl.list().thisUpdate() : Instant.EPOCH;
  }
}
