// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.wire.Daemons;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The revocation list as others fetch it: that of the last revocation, whichever command or host
 * made it. It is written anew in time, since servers refuse every client when it is out of date.
 */
final class CurrentList implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(CurrentList.class);
  private static final Duration KEPT = Duration.ofSeconds(5); // it is read at most this often
  private static final Duration DUE = Duration.ofDays(21); // before anybody is warned of it

  private final SigningAuthority signing;
  private final Clock clock;
  private final ScheduledExecutorService watch;
  private Optional<byte[]> der = Optional.empty();
  private Instant until = Instant.MIN;

  CurrentList(SigningAuthority signing, Clock clock) {
    this.signing = signing;
    this.clock = clock;
    this.watch = Executors.newSingleThreadScheduledExecutor(Daemons.named("symbolon-list"));
    var unused = watch.scheduleWithFixedDelay(this::renew, 0, 1, TimeUnit.HOURS);
  }

  /** In DER (RFC 5280, 4.2.1.13); nothing where there is none. */
  synchronized Optional<byte[]> der() {
    Instant now = clock.instant();
    if (!now.isBefore(until)) {
      try {
        der = signing.folder().list().map(RevocationList::encoding);
        until = now.plus(KEPT);
      } catch (SymbolonException e) {
        LOG.warn("the revocation list can't be read: {} {}", e.statement(), e.seen());
      }
    }
    return der;
  }

  /** Something was revoked just now. */
  synchronized void forget() {
    until = Instant.MIN;
  }

  private void renew() {
    try {
      Instant due = clock.instant().plus(DUE);
      Instant now = clock.instant();
      // One from the future was written when a clock was wrong: nobody accepts it until then.
      boolean lasts =
          signing
              .folder()
              .list()
              .filter(list -> !list.thisUpdate().isAfter(now))
              .flatMap(RevocationList::nextUpdate)
              .filter(end -> end.isAfter(due))
              .isPresent();
      if (!lasts) {
        var unused =
            signing.revoke(List.of(), RevocationReason.UNSPECIFIED, AuthorityFolder.LIST_LASTS);
        forget();
      }
    } catch (RuntimeException e) {
      LOG.warn("the revocation list could not be written anew", e);
    }
  }

  @Override
  public void close() {
    watch.shutdownNow();
  }
}
