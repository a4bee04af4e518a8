// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.text.Hex;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationList;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * What one authority has issued and revoked, where it is not in the files of its folder: in a
 * database. What a call adds is there for good when it returns, or nothing of it is. Several
 * processes and hosts may use the same records at once. Every question but {@link #revoked()} costs
 * the same however many certificates are on record. Thread-safe.
 *
 * <p>Each call throws {@link SymbolonException} if the records can't be reached.
 */
public interface IssueRecords extends AutoCloseable {
  /** {@return where they are, to be shown to people} */
  String place();

  /** {@return how far they go, as their last entries say, and what the authority signed} */
  RecordsState state();

  /**
   * Puts certificates on record.
   *
   * @param authority the authority, which signs the new state
   * @throws SymbolonException if a serial number is on record already; then nothing is added
   */
  void add(Collection<Certificate> certificates, Authority authority);

  /**
   * Revokes certificates, and replaces the revocation list; what is revoked already stays as it is.
   *
   * @param revoked what is revoked
   * @param authority the authority, which signs the list and the new state
   * @param now the moment that counts as now
   * @param lasts how long the list may be relied on
   * @return the new list, with everything that is revoked
   */
  RevocationList revoke(
      Collection<Authority.Revocation> revoked, Authority authority, Instant now, Lifetime lasts);

  /**
   * Takes a revocation list that was made elsewhere, unless a newer one is there.
   *
   * @param list the list, which the authority has signed
   */
  void keep(RevocationList list);

  /** {@return the current revocation list} */
  Optional<RevocationList> list();

  /**
   * {@return the certificate with a serial number}
   *
   * @param serial the serial number
   */
  Optional<Certificate> issued(BigInteger serial);

  /**
   * {@return certificates in the order of their issue}
   *
   * @param from how many come before the first of them
   * @param most how many at most
   */
  List<Certificate> page(long from, int most);

  /**
   * {@return the certificates whose serial number begins so in hexadecimal, or whose subject has
   * this common name or user id, in the order of their issue}
   *
   * @param most how many at most
   */
  List<Certificate> find(String text, int most);

  /**
   * {@return the certificates that end between two moments, are not revoked, and have no
   * certificate for the same names that ends later, soonest first}
   *
   * @param from the first moment
   * @param until the last one
   * @param most how many at most
   */
  List<Certificate> ending(Instant from, Instant until, int most);

  /**
   * {@return what is said of the revocation of a certificate}
   *
   * @param serial its serial number
   */
  Optional<Authority.Revocation> revocation(BigInteger serial);

  /** {@return everything that is revoked, in the order in which it was} */
  List<Authority.Revocation> revoked();

  /** {@return what certificates for the same subject and the same names have in common} */
  static String sameNames(Certificate certificate) {
    String names =
        certificate.subject()
            + " "
            + certificate.alternativeNames().stream().map(GeneralName::toString).sorted().toList();
    return Hex.sha256(names.getBytes(StandardCharsets.UTF_8));
  }

  /**
   * {@return whether another process has them open and lets this one use them} Then they are not
   * moved elsewhere: that process would go on where they were.
   */
  default boolean isShared() {
    return false;
  }

  /** {@return the refusal of a certificate whose serial number is on record already} */
  static SymbolonException taken(Certificate certificate) {
    return new SymbolonException(
        Reason.EXISTS,
        "The certificate of " + certificate.subject().shortText() + " was not issued.",
        "Its serial number " + certificate.serialHex() + " is used already.",
        "Give the command again; if that happens twice, this machine's randomness is broken.");
  }

  /** {@return the number of a revocation list; 0 where it has none} */
  static BigInteger number(RevocationList list) {
    return list.extensions().listNumber().orElse(BigInteger.ZERO);
  }

  /**
   * {@return the number of the list after another: larger than that of any list before it}
   *
   * @param before the list before it
   * @param now the moment that counts as now
   */
  static BigInteger numberAfter(Optional<RevocationList> before, Instant now) {
    return before
        .map(IssueRecords::number)
        .orElse(BigInteger.ZERO)
        .add(BigInteger.ONE)
        .max(BigInteger.valueOf(now.getEpochSecond()));
  }

  /** Closes them; what is on record stays. */
  @Override
  void close();
}
