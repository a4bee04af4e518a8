// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.chain.Credential;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * A key with its chain and an authority for clients, made up for a trial and kept nowhere.
 *
 * @param credential the server's key with its chain
 * @param host the host it is for
 * @param trust whose clients it trusts
 * @param root the root above all of them
 */
public record TrialMaterial(
    Credential credential, HostName host, ClientTrust trust, Certificate root) {
  private static final Duration LASTS = Duration.ofDays(30);

  /**
   * {@return new material}
   *
   * @param now when it begins to be valid
   */
  public static TrialMaterial madeUp(Instant now) {
    SecureRandom random = new SecureRandom();
    HostName host = HostName.parse("trial.lanternfish.example");
    Authority root =
        Authority.root(
            DistinguishedName.parse("CN=Trial Root"), KeyKind.EC_P256, now, LASTS, random);
    Authority issuing =
        root.intermediate(DistinguishedName.parse("CN=Trial Issuing"), KeyKind.EC_P256, now, LASTS);
    Credential credential =
        issuing.issue(
            DistinguishedName.parse("CN=" + host),
            KeyKind.RSA_2048,
            List.of(host),
            Use.SERVER,
            now,
            LASTS);
    return new TrialMaterial(
        credential,
        host,
        new ClientTrust(List.of(root.certificate(), issuing.certificate()), List.of()),
        root.certificate());
  }
}
