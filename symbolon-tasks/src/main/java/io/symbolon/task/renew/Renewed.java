// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
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
 * @param servers the servers that are to show it
 */
public record Renewed(
    String name,
    String place,
    Outcome outcome,
    Optional<Certificate> now,
    Optional<Instant> due,
    Optional<NextFiles> waiting,
    List<RenewedAt> servers) {
  /** Copies the list. */
  public Renewed {
    servers = List.copyOf(servers);
  }

  /** One that no server is to show, as far as is known. */
  public Renewed(
      String name,
      String place,
      Outcome outcome,
      Optional<Certificate> now,
      Optional<Instant> due,
      Optional<NextFiles> waiting) {
    this(name, place, outcome, now, due, waiting, List.of());
  }

  Renewed at(List<RenewedAt> places) {
    boolean shown = places.stream().allMatch(one -> one.state().isShown());
    boolean given = places.stream().anyMatch(one -> one.state() == RenewedAt.State.GIVEN);
    boolean done = outcome == Outcome.RENEWED || outcome == Outcome.NOT_DUE;
    Outcome whole =
        !done ? outcome : !shown ? Outcome.NOT_SHOWN : given ? Outcome.RENEWED : outcome;
    return new Renewed(name, place, whole, now, due, waiting, places);
  }

  /** What can become of one. */
  public enum Outcome {
    RENEWED("renewed"),
    NOT_DUE("not due"),
    FAILED("not renewed"),
    NOT_SHOWN("not shown"),
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
