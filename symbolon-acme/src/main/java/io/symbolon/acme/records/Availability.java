// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import com.zaxxer.hikari.HikariDataSource;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Whether a database on another host answers. It is asked all the time; while it does not answer,
 * whoever wants something of it is told so at once and does not wait. With the pause, the time for
 * a connection and that for an answer nobody waits for more than some two seconds.
 */
final class Availability implements AutoCloseable {
  static final int ANSWERS_MILLIS = 1_500; // for a connection, and for each answer
  private static final int PAUSE_MILLIS = 250;
  static final long VALID_MILLIS = 1_000;

  private static final Logger LOG = LoggerFactory.getLogger(Availability.class);
  private static final String CONNECTION = "08"; // the class of SQL states of lost connections
  private static final String SHUTDOWN = "57P"; // PostgreSQL ends, or has just begun

  private final HikariDataSource source;
  private final boolean watched;
  private final ScheduledExecutorService timer =
      Executors.newSingleThreadScheduledExecutor(Availability::daemon);
  private volatile boolean away;

  Availability(HikariDataSource source, boolean watched) {
    this.source = source;
    this.watched = watched;
    if (watched) {
      var unused =
          timer.scheduleWithFixedDelay(
              this::look, PAUSE_MILLIS, PAUSE_MILLIS, TimeUnit.MILLISECONDS);
    }
  }

  private static Thread daemon(Runnable work) {
    Thread thread = new Thread(work, "symbolon-database");
    thread.setDaemon(true);
    return thread;
  }

  /** The database does not answer now. */
  static final class AwayException extends SymbolonException {
    private static final long serialVersionUID = 1L;

    AwayException() {
      super(
          Reason.NO_ANSWER,
          "The records could not be read or written.",
          "The database does not answer.",
          "Check that it runs. Nothing was handed out.");
    }
  }

  boolean isAway() {
    return away;
  }

  void check() {
    if (away) {
      throw new AwayException();
    }
  }

  /** Looks at what a question failed with. */
  void failed(SQLException e) {
    String state = String.valueOf(e.getSQLState());
    boolean lost =
        state.startsWith(CONNECTION)
            || state.startsWith(SHUTDOWN)
            || e instanceof java.sql.SQLTransientConnectionException;
    if (watched && lost) {
      away = true;
      throw new AwayException();
    }
  }

  private void look() {
    try (Connection connection = source.getConnection()) {
      boolean answers = connection.isValid(1);
      connection.rollback();
      tell(!answers);
    } catch (SQLException | RuntimeException e) {
      tell(true);
    }
  }

  private void tell(boolean now) {
    if (now != away) {
      LOG.warn(now ? "the database does not answer" : "the database answers again");
    }
    away = now;
  }

  @Override
  public void close() {
    timer.shutdownNow();
  }
}
