// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.folder;

import io.symbolon.x509.Certificate;
import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A certificate that an account obtained or is obtaining, and how.
 *
 * @param name what it is called in the folder
 * @param options how it was ordered, as it was typed, with whole paths
 * @param order the order that is not finished
 * @param since since when it is under way
 * @param certificate the certificate that was obtained last
 */
public record Standing(
    String name,
    List<String> options,
    Optional<URI> order,
    Optional<Instant> since,
    Optional<Certificate> certificate) {
  /**
   * Copies the options.
   *
   * @param name its name
   * @param options how it was ordered
   * @param order its order
   * @param since since when
   * @param certificate what was obtained
   */
  public Standing {
    options = List.copyOf(options);
  }

  /**
   * {@return one of which nothing was obtained and nothing is under way}
   *
   * @param name what it is called
   * @param options how it is ordered
   */
  public static Standing begun(String name, List<String> options) {
    return new Standing(name, options, Optional.empty(), Optional.empty(), Optional.empty());
  }

  /**
   * {@return the same, ordered otherwise from now on}
   *
   * @param newOptions how it is ordered
   */
  public Standing with(List<String> newOptions) {
    return new Standing(name, newOptions, order, since, certificate);
  }

  /** {@return whether no certificate was obtained yet} */
  public boolean isUnfinished() {
    return certificate.isEmpty();
  }

  /**
   * {@return the value of an option with which it was ordered}
   *
   * @param option the option, as it was typed
   */
  public Optional<String> value(String option) {
    int at = options.indexOf(option);
    return at < 0 || at + 1 == options.size() ? Optional.empty() : Optional.of(options.get(at + 1));
  }

  /**
   * {@return the same with an order that is under way}
   *
   * @param url the address of the order
   * @param now the moment
   */
  public Standing ordered(URI url, Instant now) {
    return new Standing(name, options, Optional.of(url), Optional.of(now), certificate);
  }

  /** {@return the same without the order that was under way} */
  public Standing withoutOrder() {
    return new Standing(name, options, Optional.empty(), Optional.empty(), certificate);
  }

  /**
   * {@return the same with nothing under way and a certificate}
   *
   * @param fresh the certificate
   */
  public Standing obtained(Certificate fresh) {
    return new Standing(name, options, Optional.empty(), Optional.empty(), Optional.of(fresh));
  }
}
