// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import java.nio.file.Path;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * What a finding speaks of, for programs: what its sentences say, as values.
 *
 * @param side whose side of a handshake it is, where there is one
 * @param position where in the file; empty where that is not known or it is all of it
 * @param date the date that matters: of an expired certificate, the day on which it expired
 * @param names the names that matter: a host that is not covered, an issuer that is missing
 */
public record About(
    Optional<Side> side,
    Optional<Path> file,
    String position,
    List<DatedCertificate> certificates,
    Optional<Instant> date,
    List<String> names) {
  private static final About NOTHING =
      new About(Optional.empty(), Optional.empty(), "", List.of(), Optional.empty(), List.of());

  /** Copies the lists. */
  public About {
    certificates = List.copyOf(certificates);
    names = List.copyOf(names);
  }

  /** {@return nothing that can be told as a value} */
  public static About nothing() {
    return NOTHING;
  }

  /**
   * Also of certificates.
   *
   * @return a changed copy
   */
  public About with(Collection<? extends DatedCertificate> more) {
    return new About(side, file, position, List.copyOf(more), date, names);
  }

  /**
   * Also of a date.
   *
   * @return a changed copy
   */
  public About at(Instant moment) {
    return new About(side, file, position, certificates, Optional.of(moment), names);
  }

  /**
   * Also of a place in a file.
   *
   * @param newPosition the position in the file
   * @return a changed copy
   */
  public About in(Path newFile, String newPosition) {
    return new About(side, Optional.of(newFile), newPosition, certificates, date, names);
  }

  /**
   * Also of a side.
   *
   * @return a changed copy
   */
  public About of(Side newSide) {
    return new About(Optional.of(newSide), file, position, certificates, date, names);
  }

  /**
   * Also of names.
   *
   * @return a changed copy
   */
  public About naming(String... more) {
    return new About(side, file, position, certificates, date, List.of(more));
  }

  /**
   * {@return what it does not say itself, another says}
   *
   * @param other another one
   */
  public About or(About other) {
    return new About(
        side.or(other::side),
        file.or(other::file),
        file.isPresent() ? position : other.position,
        certificates.isEmpty() ? other.certificates : certificates,
        date.or(other::date),
        names.isEmpty() ? other.names : names);
  }
}
