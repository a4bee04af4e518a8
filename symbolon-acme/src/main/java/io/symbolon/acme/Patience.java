// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import io.symbolon.acme.wire.Transport;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * How long an authority is waited for.
 *
 * @param exchange how long one question may take
 * @param whole how long all waits for one thing may take
 * @param sleep how time passes
 */
public record Patience(Duration exchange, Duration whole, Clock clock, Consumer<Duration> sleep) {
  /** How long one question may take, where nothing else is said. */
  public static final Duration EXCHANGE = Duration.ofSeconds(30);

  /** How long all waits for one thing may take, where nothing else is said. */
  public static final Duration WHOLE = Duration.ofMinutes(5);

  private static final Duration FIRST = Duration.ofMillis(250);
  private static final Duration MOST = Duration.ofSeconds(15);

  /** {@return the usual patience} */
  public static Patience usual() {
    return new Patience(EXCHANGE, WHOLE, Clock.systemUTC(), Patience::sleep);
  }

  /** {@return the same with another limit for all waits} */
  public Patience within(Duration limit) {
    return new Patience(exchange, limit, clock, sleep);
  }

  private static void sleep(Duration time) {
    try {
      Thread.sleep(time.toMillis());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** A series of waits, each longer than the one before, within the limit. */
  Waits waits() {
    return new Waits();
  }

  /** The moment that an answer names in Retry-After (RFC 9110, 10.2.3). */
  Optional<Instant> again(Transport.Answer answer) {
    Optional<String> text = answer.headers().firstValue("Retry-After").map(String::strip);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    if (text.get().matches("[0-9]{1,9}")) {
      return Optional.of(clock.instant().plusSeconds(Long.parseLong(text.get())));
    }
    try {
      return Optional.of(
          ZonedDateTime.parse(text.get(), DateTimeFormatter.RFC_1123_DATE_TIME).toInstant());
    } catch (DateTimeException e) {
      return Optional.empty(); // a moment that nobody can read is none
    }
  }

  /** Waits that grow. */
  final class Waits {
    private Duration next = FIRST;
    private Duration left = whole;

    /**
     * Waits once more, unless that would take too long.
     *
     * @param until the moment that the authority asks to wait for
     * @return whether it waited
     */
    boolean once(Optional<Instant> until) {
      Duration wait = next;
      if (until.isPresent()) {
        Duration asked = Duration.between(clock.instant(), until.get());
        wait = asked.compareTo(FIRST) < 0 ? FIRST : asked;
      }
      if (wait.compareTo(left) > 0 || Thread.currentThread().isInterrupted()) {
        return false;
      }
      sleep.accept(wait);
      left = left.minus(wait);
      next = next.multipliedBy(2).compareTo(MOST) > 0 ? MOST : next.multipliedBy(2);
      return true;
    }
  }
}
