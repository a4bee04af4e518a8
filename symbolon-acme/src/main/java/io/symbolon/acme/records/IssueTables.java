// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import io.symbolon.acme.records.Database.Session;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Authority.Revocation;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.record.IssueRecords;
import io.symbolon.issue.record.RecordsState;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.math.BigInteger;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.locks.ReentrantLock;

/**
 * What an authority has issued and revoked, in the tables of a database. Every change first takes
 * the row of the state, so that changes of several processes follow one another; what they add and
 * the new state are one transaction. Thread-safe.
 */
public final class IssueTables implements IssueRecords {
  /** Version 1; never changed again. */
  private static final List<String> FIRST =
      List.of(
          """
          CREATE TABLE IF NOT EXISTS issue_state (id INTEGER PRIMARY KEY,
          authority VARCHAR(64) NOT NULL, taken BIGINT NOT NULL, signature VARCHAR(20000) NOT NULL)""",
          """
          CREATE TABLE IF NOT EXISTS issued (position BIGINT PRIMARY KEY,
          serial VARCHAR(64) NOT NULL UNIQUE, ends BIGINT NOT NULL, names VARCHAR(64) NOT NULL,
          certificate TEXT NOT NULL, link VARCHAR(64) NOT NULL)""",
          "CREATE INDEX IF NOT EXISTS issued_ends ON issued (ends)",
          "CREATE INDEX IF NOT EXISTS issued_names ON issued (names, ends)",
          """
          CREATE TABLE IF NOT EXISTS issued_name (name VARCHAR(300) NOT NULL,
          position BIGINT NOT NULL, PRIMARY KEY (name, position))""",
          """
          CREATE TABLE IF NOT EXISTS revoked (position BIGINT PRIMARY KEY,
          serial VARCHAR(64) NOT NULL UNIQUE, moment BIGINT NOT NULL, reason VARCHAR(40) NOT NULL,
          link VARCHAR(64) NOT NULL)""",
          "CREATE TABLE IF NOT EXISTS revocation_list (id INTEGER PRIMARY KEY, list TEXT NOT NULL)");

  private static final Tables TABLES = new Tables("issued", List.of(FIRST));

  private static final int NAME = 300; // characters of a name that it is found by
  private static final int STATE = 1; // the one row of a table that has one

  private final Database database;
  private final boolean closesDatabase;
  private final String place;
  private final ReentrantLock change = new ReentrantLock(true);

  private IssueTables(Database database, boolean closesDatabase, String place) {
    this.database = database;
    this.closesDatabase = closesDatabase;
    this.place = Database.withoutSecrets(place);
  }

  /**
   * {@return the records in a database that somebody else closes}
   *
   * @param database the database; tables are made where they are not there
   * @param authority the SHA-256 of the authority's public key in hexadecimal
   * @param place where it is, to be shown to people
   * @throws SymbolonException if the records in it are another authority's
   */
  public static IssueTables in(Database database, String authority, String place) {
    return in(database, authority, place, false);
  }

  static IssueTables in(Database database, String authority, String place, boolean closes) {
    database.make(TABLES);
    String there =
        database.transaction(
            session -> {
              Optional<String> known =
                  session.find(
                      "SELECT authority FROM issue_state WHERE id = ?",
                      row -> row.getString(1),
                      STATE);
              if (known.isEmpty()) {
                session.change(
                    "INSERT INTO issue_state (id, authority, taken, signature) VALUES (?, ?, 0, '')",
                    STATE,
                    authority);
              }
              return known.orElse(authority);
            });
    if (!there.equals(authority)) {
      if (closes) {
        database.close();
      }
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          "The records can't be used.",
          "Those in " + VisibleText.of(place) + " are of another authority.",
          "Give each authority a database of its own.");
    }
    return new IssueTables(database, closes, place);
  }

  @Override
  public String place() {
    return place;
  }

  @Override
  public RecordsState state() {
    return database.transaction(IssueTables::state);
  }

  /** As the last entries say: whoever takes one away leaves a state that nobody has signed. */
  private static RecordsState state(Session session) throws SQLException {
    Last issued = last(session, "issued");
    Last revoked = last(session, "revoked");
    String signature =
        session
            .find("SELECT signature FROM issue_state WHERE id = ?", row -> row.getString(1), STATE)
            .orElse("");
    return new RecordsState(
        issued.count(), issued.link(), revoked.count(), revoked.link(), signature);
  }

  private record Last(long count, String link) {}

  private static Last last(Session session, String table) throws SQLException {
    return session
        .find(
            "SELECT position, link FROM " + table + " ORDER BY position DESC LIMIT 1",
            row -> new Last(row.getLong(1) + 1, row.getString(2)))
        .orElse(new Last(0, RecordsState.FIRST_LINK));
  }

  /** A change: one behind the other in this process, and by the taken row among several. */
  private <T> T changing(Database.Work<T> work) {
    change.lock();
    try {
      return database.transaction(
          session -> {
            session.change("UPDATE issue_state SET taken = taken + 1 WHERE id = ?", STATE);
            return work.run(session);
          });
    } finally {
      change.unlock();
    }
  }

  @Override
  public void add(Collection<Certificate> certificates, Authority authority) {
    if (certificates.isEmpty()) {
      return;
    }
    RecordsState unused =
        changing(
            session -> {
              RecordsState state = state(session);
              for (Certificate one : certificates) {
                if (issued(session, one.serialHex()).isPresent()) {
                  throw IssueRecords.taken(one);
                }
                RecordsState next = state.with(one);
                insert(session, one, state.issued(), next.issuedLink());
                state = next;
              }
              sign(session, state, authority);
              return state;
            });
  }

  private static void insert(Session session, Certificate one, long position, String link)
      throws SQLException {
    session.change(
        "INSERT INTO issued (position, serial, ends, names, certificate, link)"
            + " VALUES (?, ?, ?, ?, ?, ?)",
        position,
        one.serialHex(),
        one.notAfter().getEpochSecond(),
        IssueRecords.sameNames(one),
        Base64.getEncoder().encodeToString(one.encoding()),
        link);
    for (String name : names(one)) {
      session.change("INSERT INTO issued_name (name, position) VALUES (?, ?)", name, position);
    }
  }

  private static Set<String> names(Certificate one) {
    Set<String> names = new LinkedHashSet<>();
    one.subject().attributes().stream()
        .filter(part -> part.type().equals(Oids.CN) || part.type().equals(Oids.UID))
        .forEach(part -> names.add(key(part.text())));
    return names;
  }

  private static String key(String name) {
    String low = name.toLowerCase(Locale.ROOT).replace("\0", "");
    return low.length() <= NAME ? low : low.substring(0, NAME);
  }

  private static void sign(Session session, RecordsState state, Authority authority)
      throws SQLException {
    session.change(
        "UPDATE issue_state SET signature = ? WHERE id = ?",
        state.signed(authority).signature(),
        STATE);
  }

  @Override
  public RevocationList revoke(
      Collection<Revocation> revoked, Authority authority, Instant now, Lifetime lasts) {
    return changing(
        session -> {
          RecordsState state = state(session);
          List<Revocation> all = new ArrayList<>(revoked(session));
          Set<BigInteger> known = new LinkedHashSet<>();
          all.forEach(one -> known.add(one.serial()));
          for (Revocation one : revoked) {
            if (known.add(one.serial())) {
              RecordsState next = state.with(one);
              session.change(
                  "INSERT INTO revoked (position, serial, moment, reason, link)"
                      + " VALUES (?, ?, ?, ?, ?)",
                  state.revoked(),
                  one.serial().toString(16),
                  one.when().getEpochSecond(),
                  one.reason().word(),
                  next.revokedLink());
              all.add(one);
              state = next;
            }
          }
          BigInteger number = IssueRecords.numberAfter(list(session), now);
          RevocationList list = authority.revocationList(all, number, now, lasts);
          put(session, list);
          sign(session, state, authority);
          return list;
        });
  }

  private static void put(Session session, RevocationList list) throws SQLException {
    String text = Base64.getEncoder().encodeToString(list.encoding());
    if (session.change("UPDATE revocation_list SET list = ? WHERE id = ?", text, STATE) == 0) {
      session.change("INSERT INTO revocation_list (id, list) VALUES (?, ?)", STATE, text);
    }
  }

  @Override
  public void keep(RevocationList list) {
    boolean unused =
        changing(
            session -> {
              boolean newer =
                  list(session)
                      .filter(
                          known ->
                              IssueRecords.number(known).compareTo(IssueRecords.number(list)) >= 0)
                      .isEmpty();
              if (newer) {
                put(session, list);
              }
              return newer;
            });
  }

  @Override
  public Optional<RevocationList> list() {
    return database.transaction(IssueTables::list);
  }

  private static Optional<RevocationList> list(Session session) throws SQLException {
    return session
        .find("SELECT list FROM revocation_list WHERE id = ?", row -> row.getString(1), STATE)
        .map(text -> RevocationList.read(Base64.getDecoder().decode(text)));
  }

  @Override
  public Optional<Certificate> issued(BigInteger serial) {
    return database.transaction(session -> issued(session, serial.toString(16)));
  }

  private static Optional<Certificate> issued(Session session, String serial) throws SQLException {
    return session.find(
        "SELECT certificate FROM issued WHERE serial = ?", IssueTables::certificate, serial);
  }

  private static Certificate certificate(ResultSet row) throws SQLException {
    return Certificate.read(Base64.getDecoder().decode(row.getString("certificate")));
  }

  @Override
  public List<Certificate> page(long from, int most) {
    return database.transaction(
        session ->
            session.all(
                "SELECT certificate FROM issued WHERE position >= ? AND position < ?"
                    + " ORDER BY position",
                IssueTables::certificate,
                from,
                from + most));
  }

  @Override
  public List<Certificate> find(String text, int most) {
    String hex = text.toLowerCase(Locale.ROOT).replace(":", "");
    return database.transaction(
        session -> {
          // The digits of a number end before a g: this is what begins with them.
          List<Certificate> bySerial =
              hex.matches("[0-9a-f]{8,64}")
                  ? session.all(
                      "SELECT certificate FROM issued WHERE serial >= ? AND serial < ?"
                          + " ORDER BY position LIMIT ?",
                      IssueTables::certificate,
                      hex,
                      hex + "g",
                      most)
                  : List.of();
          return bySerial.isEmpty()
              ? session.all(
                  "SELECT certificate FROM issued JOIN issued_name ON"
                      + " issued.position = issued_name.position WHERE name = ?"
                      + " ORDER BY issued.position LIMIT ?",
                  IssueTables::certificate,
                  key(text),
                  most)
              : bySerial;
        });
  }

  @Override
  public List<Certificate> ending(Instant from, Instant until, int most) {
    return database.transaction(
        session ->
            session.all(
                "SELECT certificate FROM issued WHERE ends >= ? AND ends <= ? AND NOT EXISTS"
                    + " (SELECT 1 FROM revoked WHERE revoked.serial = issued.serial)"
                    + " AND NOT EXISTS (SELECT 1 FROM issued later WHERE later.names = issued.names"
                    + " AND later.ends > issued.ends AND NOT EXISTS"
                    + " (SELECT 1 FROM revoked WHERE revoked.serial = later.serial))"
                    + " ORDER BY ends LIMIT ?",
                IssueTables::certificate,
                from.getEpochSecond(),
                until.getEpochSecond(),
                most));
  }

  @Override
  public Optional<Revocation> revocation(BigInteger serial) {
    return database.transaction(
        session ->
            session.find(
                "SELECT * FROM revoked WHERE serial = ?",
                IssueTables::revocation,
                serial.toString(16)));
  }

  @Override
  public List<Revocation> revoked() {
    return database.transaction(IssueTables::revoked);
  }

  private static List<Revocation> revoked(Session session) throws SQLException {
    return session.all("SELECT * FROM revoked ORDER BY position", IssueTables::revocation);
  }

  private static Revocation revocation(ResultSet row) throws SQLException {
    return new Revocation(
        new BigInteger(row.getString("serial"), 16),
        Instant.ofEpochSecond(row.getLong("moment")),
        RevocationReason.ofWord(row.getString("reason")).orElse(RevocationReason.UNSPECIFIED));
  }

  @Override
  public void close() {
    if (closesDatabase) {
      database.close();
    }
  }
}
