// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import java.util.Arrays;
import java.util.Collection;
import java.util.Optional;

/**
 * A certificate whose issuer is at hand, by its name and its key, and which that key did not sign.
 * It is no missing issuer: whoever has it gets nothing from looking for another one.
 */
public final class BrokenSignature {
  private BrokenSignature() {}

  /**
   * {@return what is said of it; nothing where no such issuer is at hand}
   *
   * @param pool what is at hand
   * @param unnamed whether an issuer of the right name counts where the certificate does not name
   *     the key that signed it, so that it might be another of the same name
   * @param where the place that is told
   */
  public static Optional<Finding> of(
      Certificate certificate, Collection<Certificate> pool, boolean unnamed, String where) {
    Optional<byte[]> wanted = certificate.extensions().authorityKeyIdentifier();
    return pool.stream()
        .filter(one -> one.isAuthority() && one.subject().equals(certificate.issuer()))
        .filter(one -> wanted.map(key -> isKeyOf(one, key)).orElse(unnamed))
        .filter(one -> certificate.verify(one) == Validity.INVALID)
        .findFirst()
        .map(
            issuer ->
                Finding.of(
                    FindingKind.SIGNATURE_BROKEN,
                    where,
                    "The signature of the certificate of "
                        + certificate.subject().shortText()
                        + " was not made by the key of "
                        + issuer.subject().shortText()
                        + ", which it names as its issuer"
                        + (wanted.isPresent() ? ", by its key identifier, too" : "")
                        + ". The certificate was changed, or it is not that authority's.",
                    "Get the certificate again from the authority, by a way that changes nothing."));
  }

  private static boolean isKeyOf(Certificate issuer, byte[] wanted) {
    return issuer
        .extensions()
        .subjectKeyIdentifier()
        .filter(offered -> Arrays.equals(offered, wanted))
        .isPresent();
  }
}
