// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.wire.Daemons;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Looks at proofs, many at once. Those of one account take turns with those of all others; one
 * account, and one host that is looked at, hold only a share of the places, so that hosts that
 * answer slowly delay their own account and nobody else.
 */
final class LookQueue implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(LookQueue.class);
  private static final int PLACES = 48;
  private static final int OF_ACCOUNT = 8;
  private static final int OF_TARGET = 4;
  static final int WAITING = 5_000;
  static final int WAITING_OF_ACCOUNT = 500;

  private final ExecutorService lookers =
      Executors.newCachedThreadPool(Daemons.named("symbolon-looks"));
  private final ScheduledExecutorService later =
      Executors.newSingleThreadScheduledExecutor(Daemons.named("symbolon-looks-later"));
  private final Map<String, Deque<Look>> waiting = new LinkedHashMap<>(); // by account, in turn
  private final Map<String, Integer> running = new HashMap<>(); // accounts and targets
  private final Set<String> known = new HashSet<>(); // challenges that wait or are looked at
  private int busy;
  private int all;

  /**
   * A proof to look at.
   *
   * @param account whose it is
   * @param target the host that is looked at
   * @param work what looks
   */
  record Look(String challenge, String account, String target, Runnable work) {}

  /** Whether a proof is looked at by this process, or waits for that. */
  synchronized boolean has(String challenge) {
    return known.contains(challenge);
  }

  /** Whether one more proof of an account may wait. */
  synchronized boolean hasPlace(String account) {
    Deque<Look> own = waiting.get(account);
    return all < WAITING && (own == null || own.size() < WAITING_OF_ACCOUNT);
  }

  void add(Look look, long inSeconds) {
    synchronized (this) {
      known.add(look.challenge());
    }
    try {
      if (inSeconds == 0) {
        enter(look);
      } else {
        var unused = later.schedule(() -> enter(look), inSeconds, TimeUnit.SECONDS);
      }
    } catch (RejectedExecutionException e) {
      LOG.debug("the authority ends; the next one looks", e);
    }
  }

  private synchronized void enter(Look look) {
    waiting.computeIfAbsent(look.account(), one -> new ArrayDeque<>()).add(look);
    all++;
    begin();
  }

  private synchronized void begin() {
    boolean found = true;
    while (found && busy < PLACES) {
      found = false;
      Iterator<Map.Entry<String, Deque<Look>>> turn = waiting.entrySet().iterator();
      while (turn.hasNext() && !found) {
        Map.Entry<String, Deque<Look>> one = turn.next();
        Look look = next(one.getKey(), one.getValue());
        if (look != null) {
          found = true;
          turn.remove();
          if (!one.getValue().isEmpty()) {
            waiting.put(one.getKey(), one.getValue()); // behind all others
          }
          start(look);
        }
      }
    }
  }

  private @org.jspecify.annotations.Nullable Look next(String account, Deque<Look> own) {
    if (running.getOrDefault("account " + account, 0) >= OF_ACCOUNT) {
      return null;
    }
    Iterator<Look> looks = own.iterator();
    while (looks.hasNext()) {
      Look look = looks.next();
      if (running.getOrDefault("target " + look.target(), 0) < OF_TARGET) {
        looks.remove();
        return look;
      }
    }
    return null;
  }

  private void start(Look look) {
    all--;
    busy++;
    running.merge("account " + look.account(), 1, Integer::sum);
    running.merge("target " + look.target(), 1, Integer::sum);
    try {
      lookers.execute(() -> run(look));
    } catch (RejectedExecutionException e) {
      LOG.debug("the authority ends; the next one looks", e);
    }
  }

  private void run(Look look) {
    synchronized (this) {
      known.remove(look.challenge()); // whoever looks again says so anew
    }
    try {
      look.work().run();
    } finally {
      synchronized (this) {
        busy--;
        leave("account " + look.account());
        leave("target " + look.target());
        begin();
      }
    }
  }

  private void leave(String key) {
    running.computeIfPresent(key, (same, count) -> count == 1 ? null : count - 1);
  }

  @Override
  public void close() {
    later.shutdownNow();
    lookers.shutdownNow();
  }
}
