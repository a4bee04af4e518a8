// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Certified;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.pem.PemReader;
import io.symbolon.x509.Certificate;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.Optional;

/** When a certificate should be renewed (RFC 9773). */
final class RenewalDesk {
  private static final String AGAIN = "21600"; // seconds: six hours

  private final RevokedView revoked;
  private final Records records;
  private final Clock clock;

  RenewalDesk(RevokedView revoked, Records records, Clock clock) {
    this.revoked = revoked;
    this.records = records;
    this.clock = clock;
  }

  Reply tell(String id) throws Trouble {
    Certified known = certificate(records, id).orElseThrow(Trouble::notFound);
    Certificate certificate = first(known);
    byte[] key = decoded(id.substring(0, id.indexOf('.'))).orElseThrow(Trouble::notFound);
    byte[] ours = certificate.extensions().authorityKeyIdentifier().orElse(new byte[0]);
    if (!Arrays.equals(key, ours)) {
      throw Trouble.notFound();
    }
    Instant now = clock.instant();
    boolean isRevoked = revoked.has(certificate.serial());
    Duration whole = Duration.between(certificate.notBefore(), certificate.notAfter());
    // With a third of its life left, as a window of a tenth of it; at once where it is revoked.
    Instant start =
        isRevoked
            ? now.minus(Duration.ofHours(2))
            : certificate.notAfter().minus(whole.dividedBy(3));
    Instant end = isRevoked ? now.minus(Duration.ofHours(1)) : start.plus(whole.dividedBy(10));
    ObjectNode json = JsonText.object();
    json.putObject("suggestedWindow")
        .put("start", Instant.ofEpochSecond(start.getEpochSecond()).toString())
        .put("end", Instant.ofEpochSecond(end.getEpochSecond()).toString());
    return Reply.json(200, json).with("Retry-After", AGAIN);
  }

  private static Certificate first(Certified known) {
    return Certificate.read(
        PemReader.read(known.chain().getBytes(StandardCharsets.US_ASCII))
            .blocks()
            .get(0)
            .content());
  }

  /** The certificate that an identifier names (RFC 9773, 4.1). */
  static Optional<Certified> certificate(Records records, String id) {
    int dot = id.indexOf('.');
    Optional<byte[]> serial = dot < 0 ? Optional.empty() : decoded(id.substring(dot + 1));
    if (serial.isEmpty() || serial.get().length == 0 || serial.get().length > 21) {
      return Optional.empty();
    }
    byte[] octets = new BigInteger(serial.get()).toByteArray();
    if (!Arrays.equals(octets, serial.get())) {
      return Optional.empty();
    }
    return records.certifiedAs(new BigInteger(octets).toString(16));
  }

  private static Optional<byte[]> decoded(String text) {
    try {
      return Optional.of(Base64.getUrlDecoder().decode(text));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }
}
