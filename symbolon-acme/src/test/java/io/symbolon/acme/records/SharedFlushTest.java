// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** One flush counts for all who committed before it began, and for nobody else. */
@Timeout(value = 2, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class SharedFlushTest {
  @Test
  void nobodyGoesOnBeforeAFlushThatBeganAfterItsCommit() throws Exception {
    SharedFlush flushes = new SharedFlush();
    AtomicLong committed = new AtomicLong();
    AtomicLong onDisk = new AtomicLong();
    AtomicInteger times = new AtomicInteger();
    AtomicInteger atOnce = new AtomicInteger();
    ExecutorService threads = Executors.newFixedThreadPool(16);
    List<Future<Boolean>> all = new ArrayList<>();
    for (int i = 0; i < 2_000; i++) {
      all.add(
          threads.submit(
              () -> {
                long mine = committed.incrementAndGet();
                flushes.await(
                    () -> {
                      assertEquals(1, atOnce.incrementAndGet());
                      long seen = committed.get();
                      onDisk.accumulateAndGet(seen, Math::max);
                      times.incrementAndGet();
                      atOnce.decrementAndGet();
                    });
                return onDisk.get() >= mine;
              }));
    }
    for (Future<Boolean> one : all) {
      assertTrue(one.get(1, TimeUnit.MINUTES));
    }
    threads.shutdown();
    assertTrue(times.get() <= 2_000);
  }

  @Test
  void whoWaitedForAFlushThatFailedIsToldAsWell() throws Exception {
    SharedFlush flushes = new SharedFlush();
    CountDownLatch began = new CountDownLatch(1);
    CountDownLatch goOn = new CountDownLatch(1);
    ExecutorService threads = Executors.newFixedThreadPool(2);
    Future<?> first =
        told(
            threads,
            flushes,
            () -> {
              began.countDown();
              awaited(goOn);
              throw new SQLException("full");
            });
    began.await();
    Future<?> second =
        told(
            threads,
            flushes,
            () -> {
              throw new SQLException("still full");
            });
    goOn.countDown();
    first.get(1, TimeUnit.MINUTES);
    second.get(1, TimeUnit.MINUTES);
    AtomicInteger times = new AtomicInteger();
    flushes.await(times::incrementAndGet);
    assertEquals(1, times.get(), "the next one flushes again");
    threads.shutdown();
  }

  private static Future<?> told(
      ExecutorService threads, SharedFlush flushes, SharedFlush.Flush flush) {
    return threads.submit(() -> assertThrows(SQLException.class, () -> flushes.await(flush)));
  }

  private static void awaited(CountDownLatch latch) {
    try {
      latch.await();
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }
}
