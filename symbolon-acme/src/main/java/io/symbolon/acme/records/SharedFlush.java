// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import java.sql.SQLException;

/**
 * Flushes to the disk for several at once. Who comes while a flush is under way waits for the next
 * one, which begins after all of them have committed and so counts for each. Thread-safe.
 */
final class SharedFlush {
  /** What writes everything that is committed to the disk. */
  interface Flush {
    void run() throws SQLException;
  }

  private long asked; // how many have committed and want to be on the disk
  private long flushed; // how many of them are
  private boolean running;

  /**
   * Returns when what the caller has committed is on the disk.
   *
   * @param flush how everything that is committed gets there
   * @throws SQLException if it does not; each who waited tries for itself then, and is told
   */
  void await(Flush flush) throws SQLException {
    long upTo;
    synchronized (this) {
      asked++;
      long mine = asked;
      boolean interrupted = false;
      while (running && flushed < mine) {
        try {
          wait();
        } catch (InterruptedException e) {
          interrupted = true; // what is committed is waited for all the same
        }
      }
      if (interrupted) {
        Thread.currentThread().interrupt();
      }
      if (flushed >= mine) {
        return;
      }
      running = true;
      upTo = asked;
    }
    boolean done = false;
    try {
      flush.run();
      done = true;
    } finally {
      synchronized (this) {
        running = false;
        if (done) {
          flushed = Math.max(flushed, upTo);
        }
        notifyAll();
      }
    }
  }
}
