// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.ThreadFactory;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;

/** Threads that keep no process alive. */
public final class Daemons {
  private Daemons() {}

  /**
   * {@return what makes them}
   *
   * @param name what they are called
   */
  public static ThreadFactory named(String name) {
    return work -> {
      Thread thread = new Thread(work, name);
      thread.setDaemon(true);
      return thread;
    };
  }

  /**
   * {@return a pool of bounded size, whose threads end when there is nothing to do; what does not
   * find a place is refused}
   *
   * @param name what they are called
   * @param threads how many there may be
   * @param waiting how many tasks may wait for one
   */
  public static ThreadPoolExecutor pool(String name, int threads, int waiting) {
    ThreadPoolExecutor pool =
        new ThreadPoolExecutor(
            threads, threads, 1, TimeUnit.MINUTES, new ArrayBlockingQueue<>(waiting), named(name));
    pool.allowCoreThreadTimeOut(true);
    return pool;
  }
}
