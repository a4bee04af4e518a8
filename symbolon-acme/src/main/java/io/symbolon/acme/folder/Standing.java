// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.folder;

import io.symbolon.x509.Certificate;
import java.net.URI;
import java.util.List;
import java.util.Optional;

/**
 * A certificate that an account obtained or is obtaining, and how.
 *
 * @param name what it is called in the folder
 * @param options how it was ordered, as it was typed, with whole paths
 * @param order the order that is not finished
 * @param certificate the certificate that was obtained last
 */
public record Standing(
    String name, List<String> options, Optional<URI> order, Optional<Certificate> certificate) {
  /**
   * Copies the options.
   *
   * @param name what it is called
   * @param options how it was ordered
   * @param order the order that is not finished
   * @param certificate the certificate
   */
  public Standing {
    options = List.copyOf(options);
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
   */
  public Standing ordered(URI url) {
    return new Standing(name, options, Optional.of(url), certificate);
  }

  /** {@return the same without the order that was under way} */
  public Standing withoutOrder() {
    return new Standing(name, options, Optional.empty(), certificate);
  }

  /**
   * {@return the same with nothing under way and a certificate}
   *
   * @param fresh the certificate
   */
  public Standing obtained(Certificate fresh) {
    return new Standing(name, options, Optional.empty(), Optional.of(fresh));
  }
}
