// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.acme.records.AccountState;
import io.symbolon.acme.records.ChallengeState;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.OrderState;
import io.symbolon.acme.records.ProofState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Challenge;
import io.symbolon.acme.records.Records.Placed;
import io.symbolon.acme.records.Records.Proving;
import java.nio.file.Path;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Every state has a way out, and after a restart and the end of its time none is in the middle. */
class StatesTest {
  private static final Instant NOW = Instant.ofEpochSecond(1_000_000);
  private static final Instant ENDS = NOW.plusSeconds(100);

  @TempDir Path temp;

  private static <S extends Enum<S>> void leadsToAnEnd(S[] all, Function<S, Set<S>> ways) {
    for (S one : all) {
      Set<S> seen = new HashSet<>(Set.of(one));
      Set<S> next = new HashSet<>(seen);
      boolean ends = false;
      while (!next.isEmpty() && !ends) {
        ends = next.stream().anyMatch(state -> ways.apply(state).isEmpty());
        Set<S> further = new HashSet<>();
        next.forEach(state -> further.addAll(ways.apply(state)));
        further.removeAll(seen);
        seen.addAll(further);
        next = further;
      }
      assertTrue(ends, one + " leads to an end");
    }
  }

  @Test
  void everyStateLeadsToAnEnd() {
    leadsToAnEnd(OrderState.values(), OrderState::ways);
    leadsToAnEnd(ProofState.values(), ProofState::ways);
    leadsToAnEnd(ChallengeState.values(), ChallengeState::ways);
    leadsToAnEnd(AccountState.values(), AccountState::ways);
  }

  private static Placed order(OrderState state) {
    return new Placed("o" + state, "a", state, ENDS, "dns:x", "", "", "", NOW);
  }

  @Test
  void nothingStaysInTheMiddleAfterARestartAtEachState() {
    Path folder = temp.resolve("records");
    try (Records records = Records.in(Database.embedded(folder))) {
      for (OrderState state : OrderState.values()) {
        records.add(
            order(state),
            List.of(
                new Proving(
                    "p" + state, "a", "o" + state, "dns:x", false, ProofState.PENDING, ENDS)),
            List.of(
                new Challenge(
                    "c" + state,
                    "p" + state,
                    "http-01",
                    "t",
                    ChallengeState.PROCESSING,
                    Records.NEVER,
                    "")));
      }
    } // the process is killed
    try (Records records = Records.in(Database.embedded(folder))) {
      assertEquals(1, records.settle(NOW, NOW, "{}", "{\"type\":\"x\"}"), "the one that was made");
      Placed interrupted = records.placed("o" + OrderState.PROCESSING).orElseThrow();
      assertEquals(OrderState.INVALID, interrupted.status());
      assertTrue(interrupted.error().contains("x"));
      assertEquals(OrderState.READY, records.placed("o" + OrderState.READY).orElseThrow().status());
      assertEquals(5, records.unfinished(NOW).size(), "looked at again");
      assertEquals(2, records.settle(ENDS.plusSeconds(1), NOW, "{}", "{}"), "whose time is over");
      for (OrderState state : OrderState.values()) {
        OrderState now = records.placed("o" + state).orElseThrow().status();
        assertTrue(now.ways().isEmpty(), state + " became " + now);
        assertTrue(
            records.proving("p" + state).orElseThrow().status().ways().isEmpty(), state + "");
        assertEquals(ChallengeState.INVALID, records.challenge("c" + state).orElseThrow().status());
      }
      assertEquals(0, records.settle(ENDS.plusSeconds(1), ENDS.plusSeconds(1), "{}", "{}"));
    }
  }

  @Test
  void anOrderGoesNoOtherWayThanItsOwn() {
    try (Records records = Records.in(Database.embedded(temp.resolve("records")))) {
      records.add(order(OrderState.READY), List.of(), List.of());
      String id = "o" + OrderState.READY;
      assertThrows(
          IllegalArgumentException.class,
          () -> records.move(id, OrderState.VALID, OrderState.PENDING, "", NOW));
      assertTrue(records.move(id, OrderState.READY, OrderState.PROCESSING, "", NOW));
      assertEquals(
          0,
          records.settle(NOW.plusSeconds(60), NOW.minusSeconds(300), "{}", "{}"),
          "another process is at it");
      assertEquals(
          1,
          records.settle(NOW.plusSeconds(600), NOW.plusSeconds(300), "{}", "{}"),
          "or was, some minutes ago");
    }
  }
}
