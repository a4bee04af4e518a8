// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.folder;

import io.symbolon.x509.Certificate;
import java.net.URI;
import java.time.Instant;
import java.util.Optional;

/**
 * A certificate that an account obtained or is obtaining, and how.
 *
 * @param name what it is called in the folder
 * @param job how it is ordered again, as JSON that the folder keeps and does not read; in what an
 *     earlier version stored, an object with the words of a command line in {@code options}
 * @param order the order that is not finished
 * @param since since when it is under way
 * @param certificate the certificate that was obtained last
 */
public record Standing(
    String name,
    String job,
    Optional<URI> order,
    Optional<Instant> since,
    Optional<Certificate> certificate) {
  /**
   * {@return one of which nothing was obtained and nothing is under way}
   *
   * @param name what it is called
   * @param job how it is ordered
   */
  public static Standing begun(String name, String job) {
    return new Standing(name, job, Optional.empty(), Optional.empty(), Optional.empty());
  }

  /**
   * {@return the same, ordered otherwise from now on}
   *
   * @param newJob how it is ordered
   */
  public Standing with(String newJob) {
    return new Standing(name, newJob, order, since, certificate);
  }

  /** {@return whether no certificate was obtained yet} */
  public boolean isUnfinished() {
    return certificate.isEmpty();
  }

  /**
   * {@return the same with an order that is under way}
   *
   * @param url the address of the order
   * @param now the moment
   */
  public Standing ordered(URI url, Instant now) {
    return new Standing(name, job, Optional.of(url), Optional.of(now), certificate);
  }

  /** {@return the same without the order that was under way} */
  public Standing withoutOrder() {
    return new Standing(name, job, Optional.empty(), Optional.empty(), certificate);
  }

  /**
   * {@return the same with nothing under way and a certificate}
   *
   * @param fresh the certificate
   */
  public Standing obtained(Certificate fresh) {
    return new Standing(name, job, Optional.empty(), Optional.empty(), Optional.of(fresh));
  }
}
