// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.acme.records.ChallengeState;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.OrderState;
import io.symbolon.acme.records.ProofState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Challenge;
import io.symbolon.acme.records.Records.Placed;
import io.symbolon.acme.records.Records.Proving;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The records of an authority, with several at them at once. */
@Timeout(value = 3, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class RecordsTest {
  private static final Instant LATER = Instant.ofEpochSecond(4_000_000_000L);

  @TempDir Path temp;

  private static Instant at(long seconds) {
    return Instant.ofEpochSecond(seconds);
  }

  /** Proofs that are met at the same moment: the order is ready, each time. */
  @Test
  void anOrderIsReadyWhenTheLastOfItsProofsIsMet() throws Exception {
    var pool = Executors.newFixedThreadPool(4);
    try (Records records = Records.in(Database.embedded(temp.resolve("records")))) {
      for (int round = 0; round < 30; round++) {
        String id = "order" + round;
        List<Proving> provings = new ArrayList<>();
        List<Challenge> challenges = new ArrayList<>();
        for (int i = 0; i < 4; i++) {
          String proving = id + "p" + i;
          provings.add(
              new Proving(proving, "a", id, "dns:x" + i, false, ProofState.PENDING, LATER));
          challenges.add(
              new Challenge(
                  proving + "c",
                  proving,
                  "http-01",
                  "token",
                  ChallengeState.PROCESSING,
                  Records.NEVER,
                  ""));
        }
        records.add(
            new Placed(id, "a", OrderState.PENDING, LATER, "dns:x", "", "", "", at(round)),
            provings,
            challenges);
        List<Callable<Boolean>> all = new ArrayList<>();
        challenges.forEach(one -> all.add(() -> records.met(one, at(1))));
        for (var one : pool.invokeAll(all)) {
          assertTrue(one.get());
        }
        assertEquals(OrderState.READY, records.placed(id).orElseThrow().status(), id);
        assertFalse(records.met(challenges.get(0), at(2)), "once");
      }
      // A nonce is spent once, whoever asks at the same moment.
      List<Callable<Boolean>> spending = new ArrayList<>();
      for (int i = 0; i < 20; i++) {
        spending.add(() -> records.spend("nonce", LATER));
      }
      int spent = 0;
      for (var one : pool.invokeAll(spending)) {
        spent += one.get() ? 1 : 0;
      }
      assertEquals(1, spent);
    } finally {
      pool.shutdownNow();
    }
    try (Records again = Records.in(Database.embedded(temp.resolve("records")))) {
      assertEquals(30, again.placedBy("a", 0, 1000).size(), "all is there after a restart");
    }
    assertEquals(
        "rwx------",
        PosixFilePermissions.toString(Files.getPosixFilePermissions(temp.resolve("records"))));
  }
}
