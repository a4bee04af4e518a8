// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.ChallengeState;
import io.symbolon.acme.records.OrderState;
import io.symbolon.acme.records.ProofState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Account;
import io.symbolon.acme.records.Records.Challenge;
import io.symbolon.acme.records.Records.Proving;
import java.time.Clock;
import java.time.Instant;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Challenges (RFC 8555, 7.5.1): what hosts show is looked at beside the questions. */
final class ChallengeDesk implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(ChallengeDesk.class);
  private static final int LOOKS = 3;
  private static final long PAUSE_SECONDS = 2;

  private final Records records;
  private final Addresses addresses;
  private final OrderDesk orders;
  private final ProofCheck check;
  private final Clock clock;
  private final LookQueue lookers = new LookQueue();

  ChallengeDesk(
      Records records, Addresses addresses, OrderDesk orders, ProofCheck check, Clock clock) {
    this.records = records;
    this.addresses = addresses;
    this.orders = orders;
    this.check = check;
    this.clock = clock;
  }

  /** Looks again at what a process that is gone has looked at since before a moment. */
  void resume(Instant before) {
    for (Challenge one : records.unfinished(before)) {
      Optional<Proving> proving = records.proving(one.proving());
      Optional<Account> account = proving.flatMap(p -> records.account(p.account()));
      if (proving.isPresent() && account.isPresent() && !lookers.has(one.id())) {
        look(one, proving.get(), account.get(), 1, 0);
      }
    }
  }

  Reply take(SignedQuestion question, String id) throws Trouble {
    Account account = question.asker();
    Challenge challenge = records.challenge(id).orElseThrow(Trouble::notFound);
    Proving proving = records.proving(challenge.proving()).orElseThrow(Trouble::notFound);
    AccountDesk.own(account, proving.account());
    if (!question.isAsking()) {
      var unused = question.content(); // an object, whatever is in it
      if (!lookers.hasPlace(account.id())) {
        throw Trouble.tooMany("too many proofs wait to be looked at", PAUSE_SECONDS * LOOKS);
      }
      boolean open =
          proving.status() == ProofState.PENDING
              && proving.expires().isAfter(clock.instant())
              && records
                  .placed(proving.placed())
                  .filter(o -> o.status() == OrderState.PENDING)
                  .isPresent();
      if (open && records.begin(id, clock.instant())) {
        look(challenge, proving, account, 1, 0);
      }
      challenge = records.challenge(id).orElseThrow(Trouble::notFound);
    }
    Reply reply =
        Reply.json(200, orders.json(challenge))
            .linked(addresses.of(Addresses.PROOFS, proving.id()), "up");
    return challenge.status() == ChallengeState.PROCESSING ? reply.with("Retry-After", "1") : reply;
  }

  private void look(
      Challenge challenge, Proving proving, Account account, int time, long inSeconds) {
    String target = OrderDesk.name(proving.name()).value();
    lookers.add(
        new LookQueue.Look(
            challenge.id(), account.id(), target, () -> lookNow(challenge, proving, account, time)),
        inSeconds);
  }

  private void lookNow(Challenge challenge, Proving proving, Account account, int time) {
    try {
      records.keepsLooking(challenge.id(), clock.instant());
      check.check(
          challenge.type(),
          OrderDesk.name(proving.name()),
          challenge.token(),
          challenge.token() + '.' + account.thumbprint());
      boolean unused = records.met(challenge, clock.instant());
    } catch (Trouble e) {
      if (time < LOOKS) {
        look(challenge, proving, account, time + 1, PAUSE_SECONDS * time);
      } else {
        fail(challenge, e.problem().about(OrderDesk.name(proving.name()).value()));
      }
    } catch (RuntimeException e) {
      LOG.warn("a proof could not be looked at", e);
      fail(challenge, Problem.of(ProblemType.SERVER_INTERNAL, "it could not be looked at"));
    }
  }

  private void fail(Challenge challenge, Problem problem) {
    try {
      boolean unused = records.failed(challenge, OrderDesk.text(problem));
    } catch (RuntimeException e) {
      LOG.warn("what came of a proof could not be put on record", e);
    }
  }

  @Override
  public void close() {
    lookers.close();
  }
}
