// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * What became of one certificate.
 *
 * @param name whose it is
 * @param place where it lies
 * @param outcome what became of it
 * @param now the certificate that lies there now
 * @param due from when on it is due
 * @param waiting the files of a renewal by hand
 */
public record Renewed(
    String name,
    String place,
    Outcome outcome,
    Optional<Certificate> now,
    Optional<Instant> due,
    Optional<NextFiles> waiting) {
  /** What can become of one. */
  public enum Outcome {
    RENEWED("renewed"),
    NOT_DUE("not due"),
    FAILED("not renewed"),
    PREPARED("prepared"),
    WAITING("waits"),
    ANSWERED("answered");

    private final String title;

    Outcome(String title) {
      this.title = title;
    }

    /** For people. */
    public String title() {
      return title;
    }

    /** For programs. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  /**
   * The files in which a new key and its request wait.
   *
   * @param request the file of the request
   * @param key the file or keystore of the key
   */
  public record NextFiles(Path request, Path key) {}
}
