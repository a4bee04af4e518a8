// SPDX-License-Identifier: Apache-2.0
package io.symbolon.due;

import io.symbolon.remedy.Remedy;
import io.symbolon.x509.Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Something that ends.
 *
 * @param kind what it is
 * @param name whose it is
 * @param ends when it ends
 * @param uses where it is and what it is used for there
 * @param certificate the certificate; nothing for a revocation list
 * @param remedy what mends it
 */
public record DueItem(
    Kind kind,
    String name,
    Instant ends,
    List<String> uses,
    Optional<Certificate> certificate,
    Remedy remedy) {
  /** What can end. */
  public enum Kind {
    /** The certificate of a server, a client or a person. */
    CERTIFICATE("certificate"),
    /** The certificate of an authority. */
    AUTHORITY("authority"),
    /** A revocation list: after its end, whoever uses it refuses everybody. */
    REVOCATION_LIST("revocation list");

    private final String title;

    Kind(String title) {
      this.title = title;
    }

    /** {@return what it is called} */
    public String title() {
      return title;
    }
  }

  /** Copies the uses. */
  public DueItem {
    uses = List.copyOf(uses);
  }

  /**
   * {@return how many whole days are left; fewer than 0 where it has ended}
   *
   * @param now the moment that counts as now
   */
  public long days(Instant now) {
    return Math.floorDiv(Duration.between(now, ends).toSeconds(), Duration.ofDays(1).toSeconds());
  }

  /**
   * {@return whether it has ended}
   *
   * @param now the moment that counts as now
   */
  public boolean hasEnded(Instant now) {
    return ends.isBefore(now);
  }
}
