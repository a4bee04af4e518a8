// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.chain.Credential;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;

/**
 * An end-entity certificate that an authority shall sign.
 *
 * @param draft for whom, with which names, and for what use
 * @param lasts how long it shall be valid; it never outlives the authority
 */
public record SigningOrder(RequestDraft draft, Lifetime lasts) {
  /**
   * Makes a key and a certificate that the key signs itself, for a lab.
   *
   * @param kind the kind of the key
   * @param now the moment it is valid from
   * @param random where the key comes from
   * @return both
   */
  public Credential selfSigned(KeyKind kind, Instant now, SecureRandom random) {
    KeyPair pair = kind.generate(random);
    Certificate certificate =
        draft.selfSigned(
            pair.getPrivate(),
            SubjectPublicKeyInfo.of(pair.getPublic()),
            now,
            lasts.from(now),
            random);
    return Credential.ofPair(pair, List.of(certificate));
  }
}
