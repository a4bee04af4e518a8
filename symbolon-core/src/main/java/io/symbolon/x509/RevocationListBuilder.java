// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import java.math.BigInteger;
import java.security.PrivateKey;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** Builds and signs a revocation list of version 2 (RFC 5280, 5.1). Not thread-safe. */
public final class RevocationListBuilder {
  private final Certificate issuer;
  private final Instant thisUpdate;
  private final Instant nextUpdate;
  private final BigInteger number;
  private final List<byte[]> revoked = new ArrayList<>();

  private RevocationListBuilder(
      Certificate issuer, Instant thisUpdate, Instant nextUpdate, BigInteger number) {
    this.issuer = issuer;
    this.thisUpdate = thisUpdate;
    this.nextUpdate = nextUpdate;
    this.number = number;
  }

  /**
   * {@return a list of an authority}
   *
   * @param issuer the authority's certificate
   * @param thisUpdate when the list is made
   * @param nextUpdate until when it may be relied on
   * @param number larger than that of any list before it (RFC 5280, 5.2.3)
   */
  public static RevocationListBuilder of(
      Certificate issuer, Instant thisUpdate, Instant nextUpdate, BigInteger number) {
    return new RevocationListBuilder(issuer, thisUpdate, nextUpdate, number);
  }

  /**
   * Adds a certificate. The reason is left out where it is unspecified, as the standard asks.
   *
   * @param serial the serial number
   * @param when the moment
   * @return the revocation list builder
   */
  public RevocationListBuilder revoke(BigInteger serial, Instant when, RevocationReason reason) {
    revoked.add(
        reason == RevocationReason.UNSPECIFIED
            ? Der.sequence(Der.integer(serial), Der.time(when))
            : Der.sequence(
                Der.integer(serial),
                Der.time(when),
                Der.sequence(
                    new Extension(Oids.CRL_REASON, false, Der.enumerated(reason.code()))
                        .encoding())));
    return this;
  }

  /**
   * Signs it with the authority's key.
   *
   * @return the revocation list
   */
  public RevocationList sign(PrivateKey key) {
    SignatureAlgorithm algorithm = SignatureAlgorithm.forKey(key);
    Extension authorityKey =
        new Extension(
            Oids.AUTHORITY_KEY_ID,
            false,
            Der.sequence(Der.contextPrimitive(0, KeyIdentifiers.of(issuer))));
    Extension listNumber = new Extension(Oids.CRL_NUMBER, false, Der.integer(number));
    List<byte[]> fields = new ArrayList<>();
    fields.add(Der.integer(1));
    fields.add(algorithm.encoding());
    fields.add(issuer.subject().encoding());
    fields.add(Der.time(thisUpdate));
    fields.add(Der.time(nextUpdate));
    if (!revoked.isEmpty()) { // an empty list must not be there at all
      fields.add(Der.sequence(revoked));
    }
    fields.add(Der.context(0, Extensions.of(List.of(authorityKey, listNumber)).encoding()));
    byte[] tbs = Der.sequence(fields);
    byte[] signature = algorithm.sign(tbs, key);
    return RevocationList.read(Der.sequence(tbs, algorithm.encoding(), Der.bits(signature)));
  }
}
