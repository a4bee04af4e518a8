// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import com.zaxxer.hikari.pool.HikariPool;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;

/**
 * A database behind JDBC, whose statements are those that the embedded one and PostgreSQL have in
 * common. A transaction is on the disk when it returns. Thread-safe.
 */
public final class Database implements AutoCloseable {
  private static final int CONNECTIONS = 12;
  private static final int TRIES = 8;
  private static final Set<String> ENDS =
      Set.of(
          "HY000", "90028", "90030", "90031", "90098", "90121"); // the embedded one could not write
  private static final long MANY = 10_000; // changes after which the file is put together
  private static final int MAKING = 5; // tries to make the tables
  private static final String BUSY = "40"; // the class of SQL states that say: once more
  private static final Set<String> BUSY_EMBEDDED = Set.of("90131", "HYT00"); // the embedded one's

  private final HikariDataSource source;
  private final Optional<FolderHold> hold; // of the database in a folder
  private final AtomicLong changes = new AtomicLong(); // by this process
  private final SharedFlush flushes = new SharedFlush();
  private final Availability availability;
  private volatile boolean inTime; // whether each answer is waited for a moment only
  private volatile String broken = ""; // what it said when it ended

  private Database(HikariDataSource source, Optional<FolderHold> hold) {
    this.source = source;
    this.hold = hold;
    this.availability = new Availability(source, hold.isEmpty());
  }

  boolean isAlone() {
    return hold.isPresent();
  }

  boolean isAway() {
    return availability.isAway();
  }

  /** A moment in a row; a column holds it in seconds since 1970. */
  static Instant moment(ResultSet row, String column) throws SQLException {
    return Instant.ofEpochSecond(row.getLong(column));
  }

  /** From now on a database on another host that does not answer in a moment is away. */
  void waitForMomentsOnly() {
    inTime = hold.isEmpty();
  }

  /** Another process has the database of a folder open. */
  static final class InUseException extends SymbolonException {
    private static final long serialVersionUID = 1L;

    InUseException(String statement) {
      super(
          Reason.NOT_WRITABLE,
          statement,
          "Another process has them open: an authority that serves from this folder, or another"
              + " command.",
          "Wait for that one, or stop it. For several at once keep the records in PostgreSQL:"
              + " "
              + Input.RECORDS.mention()
              + ".");
    }
  }

  /** Something that is done in one transaction. */
  public interface Work<T> {
    /**
     * Does it.
     *
     * @return what came of it
     * @throws SQLException if the database refuses
     */
    T run(Session session) throws SQLException;
  }

  /**
   * {@return the database in a folder, made if there is none}
   *
   * @param folder the folder, which only its owner may enter
   * @throws SymbolonException if another process has it open, or it can't be opened
   */
  public static Database embedded(Path folder) {
    try {
      if (!Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)) {
        if (folder.getFileSystem().supportedFileAttributeViews().contains("posix")) {
          Files.createDirectory(
              folder,
              PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
        } else {
          Files.createDirectory(folder);
        }
      }
      if (folder.toAbsolutePath().toString().indexOf(';') >= 0) {
        throw failed(
            "The records in " + VisibleText.of(folder.toString()) + " can't be opened.",
            "A semicolon in the path of a database begins a setting of it.",
            "Move the authority into a folder without one.",
            null);
      }
      FolderHold hold =
          FolderHold.take(folder)
              .orElseThrow(
                  () ->
                      new InUseException(
                          "The records in "
                              + VisibleText.of(folder.toString())
                              + " can't be opened."));
      try {
        return new Database(open(url(folder), folder.toString()), Optional.of(hold));
      } catch (RuntimeException e) {
        hold.close();
        throw e;
      }
    } catch (IOException e) {
      throw failed(
          "The records in " + VisibleText.of(folder.toString()) + " can't be opened.",
          "The folder can't be written: " + VisibleText.of(String.valueOf(e.getMessage())),
          "Check the rights of the folder of the authority.",
          e);
    }
  }

  /**
   * Written through a channel that an interrupted thread does not close; locked by {@link
   * FolderHold}.
   */
  private static String url(Path folder) {
    return "jdbc:h2:async:"
        + folder.toAbsolutePath().resolve("records")
        + ";MODE=PostgreSQL;DATABASE_TO_LOWER=TRUE;LOCK_TIMEOUT=20000;TRACE_LEVEL_FILE=0"
        + ";FILE_LOCK=NO;DB_CLOSE_ON_EXIT=FALSE;RETENTION_TIME=1000;MAX_COMPACT_TIME=300";
  }

  /**
   * {@return the database at an address}
   *
   * @param url the address, such as {@code
   *     jdbc:postgresql://archive-db.lanternfish.example/records}
   * @throws SymbolonException if it can't be reached, or its driver is not there
   */
  public static Database at(String url) {
    return new Database(open(url, url), Optional.empty());
  }

  private static HikariDataSource open(String url, String shown) {
    HikariConfig config = new HikariConfig();
    config.setJdbcUrl(url);
    config.setMaximumPoolSize(CONNECTIONS);
    config.setMinimumIdle(1);
    config.setAutoCommit(false);
    config.setPoolName("records");
    config.setConnectionTimeout(Availability.ANSWERS_MILLIS);
    config.setValidationTimeout(Availability.VALID_MILLIS);
    if (url.startsWith("jdbc:postgresql:")) {
      // A host that is gone says nothing: what waits for it ends.
      config.addDataSourceProperty("connectTimeout", "2");
      config.addDataSourceProperty("socketTimeout", "15");
      config.addDataSourceProperty("tcpKeepAlive", "true");
    }
    try {
      return new HikariDataSource(config);
    } catch (HikariPool.PoolInitializationException | IllegalArgumentException e) {
      String seen = root(e);
      throw failed(
          "The records in " + VisibleText.of(withoutSecrets(shown)) + " can't be opened.",
          "The database says: " + VisibleText.of(withoutSecrets(seen)),
          "Check its address, its account, and whether it runs.",
          e);
    } catch (RuntimeException e) {
      throw failed(
          "The records in " + VisibleText.of(withoutSecrets(shown)) + " can't be opened.",
          "There is no driver for this address: " + VisibleText.of(withoutSecrets(root(e))),
          "Give an address that begins with jdbc:postgresql:",
          e);
    }
  }

  private static String root(Throwable failure) {
    Throwable one = failure;
    while (one.getCause() != null) {
      one = one.getCause();
    }
    return String.valueOf(one.getMessage());
  }

  /** An address can have a password in it. */
  static String withoutSecrets(String url) {
    return url.replaceAll("(?i)(password=)[^&;\\s]*", "$1...")
        .replaceAll("(//[^:/@\\s]+:)[^@/\\s]+@", "$1...@");
  }

  private static SymbolonException failed(
      String statement, String seen, String remedy, @Nullable Throwable cause) {
    return new SymbolonException(Reason.NOT_WRITABLE, statement, seen, remedy, cause);
  }

  /**
   * {@return what comes of a transaction; it is run again where another got in its way}
   *
   * @param work what is done in it
   * @param <T> what comes of it
   * @throws SymbolonException if the database refuses it; then nothing of it is done
   */
  public <T> T transaction(Work<T> work) {
    for (int tries = 1; ; tries++) {
      Optional<SymbolonException> end = end();
      if (end.isPresent()) {
        throw end.get();
      }
      availability.check();
      T result;
      int changed;
      try (Connection connection = source.getConnection()) {
        try {
          if (inTime) { // a host that hangs accepts questions and says nothing
            connection.setNetworkTimeout(Runnable::run, Availability.ANSWERS_MILLIS);
          }
          Session session = new Session(connection);
          result = work.run(session);
          changed = session.changes();
          connection.commit();
        } catch (SQLException | RuntimeException e) {
          takeBack(connection, e);
          throw e;
        }
      } catch (SQLException e) {
        if (tries < TRIES && isBusy(e)) {
          continue;
        }
        availability.failed(e);
        throw refused(e);
      }
      if (changed > 0 && hold.isPresent()) {
        flush(changed);
      }
      return result;
    }
  }

  /** What failed first counts: on a connection that is lost nothing can be taken back either. */
  private static void takeBack(Connection connection, Exception failed) {
    try {
      connection.rollback();
    } catch (SQLException e) {
      failed.addSuppressed(e);
    }
  }

  /** It is committed and not done again: whether it is on the disk is all that is open. */
  private void flush(int changed) {
    long unused = changes.addAndGet(changed);
    try {
      flushes.await(
          () -> {
            try (Connection connection = source.getConnection()) {
              flush(connection);
            }
          });
    } catch (SQLException e) {
      throw refused(e);
    }
  }

  private SymbolonException refused(SQLException e) {
    String says = VisibleText.of(withoutSecrets(String.valueOf(e.getMessage())));
    if (hold.isPresent() && isEnd(e)) {
      broken = says;
    }
    return failed(
        "The records could not be read or written.",
        "The database says: " + says,
        "Check that it runs and that its disk is not full. Nothing was handed out.",
        e);
  }

  /** After many changes its file is mostly room that nothing uses, and slow to open. */
  private void putTogether() {
    try (Connection connection = source.getConnection();
        Statement statement = connection.createStatement()) {
      statement.execute("SHUTDOWN COMPACT");
    } catch (SQLException e) {
      // it stays as large as it is; what is in it does not change
    }
  }

  /** The embedded database writes a commit at once, and leaves its flush to the system. */
  private static void flush(Connection connection) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("CHECKPOINT SYNC");
    }
    connection.commit();
  }

  /**
   * Whether the embedded database can't go on: it could not write, and closed itself. What is asked
   * of it then may never come back; opened anew it has everything that was committed.
   */
  private static boolean isEnd(SQLException e) {
    return e.getSQLState() != null && ENDS.contains(e.getSQLState());
  }

  /** {@return why it can't be used any more, if it can't: the program is started again then} */
  public Optional<SymbolonException> end() {
    return broken.isEmpty()
        ? Optional.empty()
        : Optional.of(
            failed(
                "The records could not be read or written.",
                "The database has closed itself after it could not write: " + broken,
                "Make room on its disk, and start this program again. Nothing was handed out.",
                null));
  }

  private static boolean isBusy(SQLException e) {
    String state = e.getSQLState();
    return state != null && (state.startsWith(BUSY) || BUSY_EMBEDDED.contains(state));
  }

  /** Makes the tables that are not there, and brings those of an older version up to date. */
  void make(Tables tables) {
    for (int tries = 1; ; tries++) {
      try {
        int unused = transaction(tables::bring);
        return;
      } catch (SymbolonException e) {
        if (e.reason() == Reason.UNSUPPORTED) {
          close();
          throw e; // it is of a newer version, and stays so
        }
        // Two processes that begin at the same moment both make the tables; one of them is refused.
        if (tries == MAKING) {
          close();
          throw e;
        }
      }
    }
  }

  /** Closes it; what was written stays. */
  @Override
  public void close() {
    availability.close();
    if (broken.isEmpty()) {
      if (hold.isPresent() && changes.get() > MANY && !source.isClosed()) {
        putTogether();
      }
      source.close(); // the embedded one closes with its last connection
    }
    hold.ifPresent(FolderHold::close);
  }

  /** The statements of one transaction. */
  public static final class Session {
    private final Connection connection;
    private int changes;

    Session(Connection connection) {
      this.connection = connection;
    }

    int changes() {
      return changes;
    }

    /** A row becomes a value. */
    public interface Row<T> {
      /**
       * {@return the value}
       *
       * @throws SQLException if a column is missing
       */
      T read(ResultSet row) throws SQLException;
    }

    /**
     * {@return how many rows a statement changed}
     *
     * @param sql the statement
     * @throws SQLException if the database refuses it
     */
    public int change(String sql, @Nullable Object... values) throws SQLException {
      changes++;
      try (PreparedStatement statement = prepare(sql, values)) {
        return statement.executeUpdate();
      }
    }

    /**
     * {@return the rows that are asked for}
     *
     * @param sql the question
     * @param row what becomes of a row
     * @param <T> what a row becomes
     * @throws SQLException if the database refuses it
     */
    public <T> List<T> all(String sql, Row<T> row, @Nullable Object... values) throws SQLException {
      try (PreparedStatement statement = prepare(sql, values);
          ResultSet found = statement.executeQuery()) {
        List<T> all = new ArrayList<>();
        while (found.next()) {
          all.add(row.read(found));
        }
        return all;
      }
    }

    /**
     * {@return the first of the rows that are asked for}
     *
     * @param sql the question
     * @param row what becomes of a row
     * @param <T> what a row becomes
     * @throws SQLException if the database refuses it
     */
    public <T> Optional<T> find(String sql, Row<T> row, @Nullable Object... values)
        throws SQLException {
      return all(sql, row, values).stream().findFirst();
    }

    private PreparedStatement prepare(String sql, @Nullable Object... values) throws SQLException {
      PreparedStatement statement = connection.prepareStatement(sql);
      for (int i = 0; i < values.length; i++) {
        Object value = values[i] instanceof Instant moment ? moment.getEpochSecond() : values[i];
        statement.setObject(i + 1, value);
      }
      return statement;
    }
  }
}
