// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.wire.Daemons;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Ends what nobody goes on with, when the authority begins and once a minute: nothing stays in the
 * middle because a process was killed or a database was away. Where several processes answer from
 * one database, what another one may be just doing has some minutes.
 */
final class Settling implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Settling.class);
  private static final Duration BUSY = Duration.ofMinutes(5); // that another process may need
  private static final long EACH = 60; // seconds

  private static final String INTERRUPTED =
      OrderDesk.text(
          Problem.of(
              ProblemType.SERVER_INTERNAL,
              "the authority was interrupted while it made the certificate; order again"));

  private final Records records;
  private final ChallengeDesk challenges;
  private final Clock clock;
  private final ScheduledExecutorService timer =
      Executors.newSingleThreadScheduledExecutor(Daemons.named("symbolon-settles"));

  Settling(Records records, ChallengeDesk challenges, Clock clock) {
    this.records = records;
    this.challenges = challenges;
    this.clock = clock;
  }

  /** Settles what is there now, and goes on. */
  void start() {
    settle(records.isAlone() ? Duration.ZERO : BUSY);
    var unused = timer.scheduleWithFixedDelay(() -> settle(BUSY), EACH, EACH, TimeUnit.SECONDS);
  }

  private void settle(Duration busy) {
    try {
      Instant now = clock.instant();
      int ended = records.settle(now, now.minus(busy), OrderDesk.OVER, INTERRUPTED);
      if (ended > 0) {
        LOG.info("{} orders that nobody went on with are ended", ended);
      }
      challenges.resume(now.minus(busy));
    } catch (RuntimeException e) {
      LOG.warn("what nobody goes on with is settled later: {}", String.valueOf(e.getMessage()));
    }
  }

  @Override
  public void close() {
    timer.shutdownNow();
  }
}
