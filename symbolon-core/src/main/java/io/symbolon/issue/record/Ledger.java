// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.math.BigInteger;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What an authority has issued and revoked.
 *
 * @param issued the certificates, in the order of their issue; where the records are in a database
 *     they are read from it page by page while the list is walked through
 * @param revoked what was revoked, by serial number
 * @param list the current revocation list
 * @param findings what is to be said of the folder
 */
public record Ledger(
    List<Certificate> issued,
    Map<BigInteger, Authority.Revocation> revoked,
    Optional<RevocationList> list,
    List<Finding> findings) {
  private static final int FOUND = 1_000; // more of one name than anybody looks through

  /** What a certificate is now. */
  public enum Standing {
    /** It can be used. */
    VALID,
    /** Its time is over. */
    EXPIRED,
    /** It was revoked. */
    REVOKED
  }

  /** The same with more to say. */
  Ledger with(List<Finding> more) {
    List<Finding> all = new java.util.ArrayList<>(more);
    all.addAll(findings);
    return new Ledger(issued, revoked, list, all);
  }

  /**
   * {@return what a certificate is at a moment}
   *
   * @param now the moment that counts as now
   */
  public Standing standing(Certificate certificate, Instant now) {
    if (revoked.containsKey(certificate.serial())) {
      return Standing.REVOKED;
    }
    return now.isAfter(certificate.notAfter()) ? Standing.EXPIRED : Standing.VALID;
  }

  /**
   * {@return the certificate with a serial number in hexadecimal, or whose number begins so, or
   * whose subject has this common name or user id}
   */
  public List<Certificate> find(String text) {
    if (issued instanceof IssuedView view) {
      return view.find(text, FOUND);
    }
    String hex = text.toLowerCase(java.util.Locale.ROOT).replace(":", "");
    List<Certificate> bySerial =
        hex.matches("[0-9a-f]{8,}")
            ? issued.stream().filter(one -> one.serialHex().startsWith(hex)).toList()
            : List.of();
    return bySerial.isEmpty()
        ? issued.stream()
            .filter(
                one ->
                    one.subject().attributes().stream()
                        .filter(
                            part ->
                                part.type().equals(io.symbolon.der.Oids.CN)
                                    || part.type().equals(io.symbolon.der.Oids.UID))
                        .anyMatch(part -> part.text().equalsIgnoreCase(text)))
            .toList()
        : bySerial;
  }
}
