// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.AuthorityFolder;
import java.math.BigInteger;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Set;

/**
 * What the authority has revoked, whichever command did it; read anew at most every few seconds, so
 * that nobody can have the register read all the time.
 */
final class RevokedView {
  private static final Duration KEPT = Duration.ofSeconds(5);

  private final AuthorityFolder folder;
  private final Clock clock;
  private Set<BigInteger> serials = Set.of();
  private Instant until = Instant.MIN;

  RevokedView(AuthorityFolder folder, Clock clock) {
    this.folder = folder;
    this.clock = clock;
  }

  synchronized boolean has(BigInteger serial) throws Trouble {
    Instant now = clock.instant();
    if (!now.isBefore(until)) {
      try {
        serials = Set.copyOf(folder.reconcile().revoked().keySet());
      } catch (SymbolonException e) {
        throw new Trouble(
            io.symbolon.acme.wire.ProblemType.SERVER_INTERNAL, "what is revoked can't be read");
      }
      until = now.plus(KEPT);
    }
    return serials.contains(serial);
  }

  /** Something was revoked just now. */
  synchronized void forget() {
    until = Instant.MIN;
  }
}
