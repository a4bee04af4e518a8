// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.byhand;

import io.symbolon.entry.StoreEntry;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.key.KeyKind;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A private key that waits for its certificate, and what is asked for.
 *
 * @param alias its alias in a keystore
 * @param draft what is asked for
 * @param key the private key
 * @param publicKey its public half
 * @param lasts how long the certificate shall be valid; no request can say it, a keystore remembers
 */
public record WaitingKey(
    String alias,
    RequestDraft draft,
    PrivateKeyInfo key,
    SubjectPublicKeyInfo publicKey,
    Lifetime lasts) {
  /**
   * {@return a new key of the same kind, for the same names and as long a time as a certificate
   * has}
   *
   * @param certificate the certificate that ends
   * @param random where random numbers come from
   */
  public static WaitingKey like(Certificate certificate, String alias, SecureRandom random) {
    KeyPair pair = Renewal.kindOf(certificate).orElse(KeyKind.EC_P256).generate(random);
    Duration whole = Duration.between(certificate.notBefore(), certificate.notAfter());
    int days = (int) Math.max(1, Math.min(whole.toDays(), 36_500));
    return new WaitingKey(
        alias,
        RequestDraft.of(certificate).withoutForeignNames(),
        PrivateKeyInfo.of(pair),
        SubjectPublicKeyInfo.of(pair.getPublic()),
        Lifetime.days(days));
  }

  /** {@return the request, signed with the key} */
  public CertificateRequest request() {
    return draft.sign(key.toPrivateKey(), publicKey);
  }

  /**
   * {@return the entry in which it waits}
   *
   * @param now the moment that counts as now
   * @param inStore whether it waits in a keystore, whose readers want a certificate with each key
   */
  public StoreEntry.KeyEntry entry(Instant now, boolean inStore) {
    List<Certificate> chain =
        inStore
            ? List.of(
                draft.placeholder(
                    key.toPrivateKey(), publicKey, now, lasts.from(now), new SecureRandom()))
            : List.of();
    return new StoreEntry.KeyEntry(
        alias, key, chain, Optional.empty(), Optional.empty(), Optional.of(now));
  }
}
