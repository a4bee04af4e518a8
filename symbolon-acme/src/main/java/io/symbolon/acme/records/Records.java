// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import io.symbolon.acme.records.Database.Session;
import io.symbolon.failure.SymbolonException;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The accounts, orders and certificates of an authority that answers RFC 8555. A change of status
 * happens only from the status that was seen: two processes never both do it. Thread-safe.
 */
public final class Records implements AutoCloseable {
  /** Version 1; never changed again. */
  private static final List<String> FIRST =
      List.of(
          """
          CREATE TABLE IF NOT EXISTS account (id VARCHAR(40) PRIMARY KEY,
          thumbprint VARCHAR(60) NOT NULL UNIQUE, jwk VARCHAR(4000) NOT NULL,
          contact VARCHAR(4000) NOT NULL, status VARCHAR(20) NOT NULL, created BIGINT NOT NULL,
          external VARCHAR(500) NOT NULL)""",
          """
          CREATE TABLE IF NOT EXISTS placed (id VARCHAR(40) PRIMARY KEY,
          account VARCHAR(40) NOT NULL, status VARCHAR(20) NOT NULL, expires BIGINT NOT NULL,
          names VARCHAR(60000) NOT NULL, replaces VARCHAR(500) NOT NULL,
          certificate VARCHAR(40) NOT NULL, error VARCHAR(8000) NOT NULL, created BIGINT NOT NULL)""",
          "CREATE INDEX IF NOT EXISTS placed_account ON placed (account, created)",
          """
          CREATE TABLE IF NOT EXISTS proving (id VARCHAR(40) PRIMARY KEY,
          account VARCHAR(40) NOT NULL, placed VARCHAR(40) NOT NULL, name VARCHAR(300) NOT NULL,
          wildcard INTEGER NOT NULL, status VARCHAR(20) NOT NULL, expires BIGINT NOT NULL)""",
          "CREATE INDEX IF NOT EXISTS proving_placed ON proving (placed)",
          """
          CREATE TABLE IF NOT EXISTS challenge (id VARCHAR(40) PRIMARY KEY,
          proving VARCHAR(40) NOT NULL, type VARCHAR(40) NOT NULL, token VARCHAR(60) NOT NULL,
          status VARCHAR(20) NOT NULL, validated BIGINT NOT NULL, error VARCHAR(8000) NOT NULL)""",
          "CREATE INDEX IF NOT EXISTS challenge_proving ON challenge (proving)",
          "CREATE INDEX IF NOT EXISTS challenge_status ON challenge (status)",
          """
          CREATE TABLE IF NOT EXISTS certified (id VARCHAR(40) PRIMARY KEY,
          account VARCHAR(40) NOT NULL, placed VARCHAR(40) NOT NULL UNIQUE,
          serial VARCHAR(60) NOT NULL UNIQUE, chain VARCHAR(200000) NOT NULL,
          issued BIGINT NOT NULL, replaced INTEGER NOT NULL)""",
          "CREATE INDEX IF NOT EXISTS certified_issued ON certified (issued)");

  /** Version 2: when something moved last, and the nonces that are spent. */
  private static final List<String> SECOND =
      List.of(
          "ALTER TABLE placed ADD COLUMN IF NOT EXISTS moved BIGINT DEFAULT 0 NOT NULL",
          "ALTER TABLE challenge ADD COLUMN IF NOT EXISTS moved BIGINT DEFAULT 0 NOT NULL",
          "CREATE INDEX IF NOT EXISTS placed_status ON placed (status)",
          "CREATE TABLE IF NOT EXISTS spent (nonce VARCHAR(80) PRIMARY KEY, until BIGINT NOT NULL)");

  private static final Tables TABLES = new Tables("orders", List.of(FIRST, SECOND));

  /** A moment that has not come. */
  public static final Instant NEVER = Instant.EPOCH;

  private final Database database;

  private Records(Database database) {
    this.database = database;
  }

  /** {@return the records in a database, whose tables are made where they are not there} */
  public static Records in(Database database) {
    database.make(TABLES);
    return new Records(database);
  }

  /**
   * An account.
   *
   * @param id its last word in addresses
   * @param thumbprint the thumbprint of its key
   * @param jwk its public key as JSON
   * @param contacts its contacts as a JSON list
   * @param status where it stands
   * @param created when it was made
   * @param external the name of the key that bound it; empty where none did
   */
  public record Account(
      String id,
      String thumbprint,
      String jwk,
      String contacts,
      AccountState status,
      Instant created,
      String external) {
    private static Account read(ResultSet row) throws SQLException {
      return new Account(
          row.getString("id"),
          row.getString("thumbprint"),
          row.getString("jwk"),
          row.getString("contact"),
          AccountState.of(row.getString("status")),
          Database.moment(row, "created"),
          row.getString("external"));
    }
  }

  /**
   * An order.
   *
   * @param id its last word in addresses
   * @param account whose it is
   * @param status where it stands
   * @param expires until when it can be gone on with
   * @param names its names, each behind its type and a colon, with spaces between
   * @param replaces the certificate that it replaces; empty for none
   * @param certificate its certificate; empty before there is one
   * @param error why it failed, as JSON; empty where it did not
   * @param created when it was placed
   */
  public record Placed(
      String id,
      String account,
      OrderState status,
      Instant expires,
      String names,
      String replaces,
      String certificate,
      String error,
      Instant created) {
    private static Placed read(ResultSet row) throws SQLException {
      return new Placed(
          row.getString("id"),
          row.getString("account"),
          OrderState.of(row.getString("status")),
          Database.moment(row, "expires"),
          row.getString("names"),
          row.getString("replaces"),
          row.getString("certificate"),
          row.getString("error"),
          Database.moment(row, "created"));
    }
  }

  /**
   * A name whose control is proven for an order.
   *
   * @param id its last word in addresses
   * @param account whose it is
   * @param placed for which order
   * @param name the name behind its type and a colon, without the {@code *.} of a wildcard
   * @param isWildcard whether all hosts of that domain are meant
   * @param status where it stands
   * @param expires until when it holds
   */
  public record Proving(
      String id,
      String account,
      String placed,
      String name,
      boolean isWildcard,
      ProofState status,
      Instant expires) {
    private static Proving read(ResultSet row) throws SQLException {
      return new Proving(
          row.getString("id"),
          row.getString("account"),
          row.getString("placed"),
          row.getString("name"),
          row.getInt("wildcard") != 0,
          ProofState.of(row.getString("status")),
          Database.moment(row, "expires"));
    }
  }

  /**
   * A way to prove it.
   *
   * @param id its last word in addresses
   * @param proving for which name
   * @param token what must be shown
   * @param status where it stands
   * @param validated when it was met; {@link #NEVER} before that
   * @param error why it failed, as JSON; empty where it did not
   */
  public record Challenge(
      String id,
      String proving,
      String type,
      String token,
      ChallengeState status,
      Instant validated,
      String error) {
    private static Challenge read(ResultSet row) throws SQLException {
      return new Challenge(
          row.getString("id"),
          row.getString("proving"),
          row.getString("type"),
          row.getString("token"),
          ChallengeState.of(row.getString("status")),
          Database.moment(row, "validated"),
          row.getString("error"));
    }
  }

  /**
   * A certificate that an order led to.
   *
   * @param id its last word in addresses
   * @param account whose order it was
   * @param placed the order
   * @param serial its serial number in hexadecimal
   * @param chain it and those above it, without the root, in PEM
   * @param issued when it was issued
   * @param isReplaced whether another order has replaced it
   */
  public record Certified(
      String id,
      String account,
      String placed,
      String serial,
      String chain,
      Instant issued,
      boolean isReplaced) {
    private static Certified read(ResultSet row) throws SQLException {
      return new Certified(
          row.getString("id"),
          row.getString("account"),
          row.getString("placed"),
          row.getString("serial"),
          row.getString("chain"),
          Database.moment(row, "issued"),
          row.getInt("replaced") != 0);
    }
  }

  // --- nonces

  /**
   * Spends a nonce.
   *
   * @param until when it is of no use anyway
   * @return whether nobody had spent it before, whichever process asked
   */
  public boolean spend(String nonce, Instant until) {
    return database.transaction(
        session -> {
          if (session
              .find("SELECT nonce FROM spent WHERE nonce = ?", row -> true, nonce)
              .isPresent()) {
            return false;
          }
          try {
            return session.change("INSERT INTO spent (nonce, until) VALUES (?, ?)", nonce, until)
                == 1;
          } catch (SQLException e) {
            if (isTaken(e)) {
              return false; // at the same moment, by somebody else
            }
            throw e;
          }
        });
  }

  private static boolean isTaken(SQLException e) {
    return e.getSQLState() != null && e.getSQLState().startsWith("23");
  }

  /**
   * Forgets nonces that are too old to be used anyway.
   *
   * @param now the moment
   * @return how many they were
   */
  public int forgetNonces(Instant now) {
    return database.transaction(
        session -> session.change("DELETE FROM spent WHERE until < ?", now));
  }

  // --- accounts

  /**
   * Puts an account on record.
   *
   * @return it, or the one that has that key already
   */
  public Account add(Account account) {
    return database.transaction(
        session -> {
          Optional<Account> there = byThumbprint(session, account.thumbprint());
          if (there.isPresent()) {
            return there.get();
          }
          session.change(
              "INSERT INTO account (id, thumbprint, jwk, contact, status, created, external)"
                  + " VALUES (?, ?, ?, ?, ?, ?, ?)",
              account.id(),
              account.thumbprint(),
              account.jwk(),
              account.contacts(),
              account.status().word(),
              account.created(),
              account.external());
          return account;
        });
  }

  private static Optional<Account> byThumbprint(Session session, String thumbprint)
      throws SQLException {
    return session.find("SELECT * FROM account WHERE thumbprint = ?", Account::read, thumbprint);
  }

  /**
   * {@return the account of a key}
   *
   * @param thumbprint the thumbprint of the key
   */
  public Optional<Account> accountOfKey(String thumbprint) {
    return database.transaction(session -> byThumbprint(session, thumbprint));
  }

  /**
   * {@return an account}
   *
   * @param id its last word in addresses
   */
  public Optional<Account> account(String id) {
    return database.transaction(
        session -> session.find("SELECT * FROM account WHERE id = ?", Account::read, id));
  }

  /**
   * Changes the contacts of an account.
   *
   * @param id the account
   * @param contacts the contacts as a JSON list
   * @return whether it is there and in use
   */
  public boolean changeContacts(String id, String contacts) {
    return database.transaction(
            session ->
                session.change(
                    "UPDATE account SET contact = ? WHERE id = ? AND status = 'valid'",
                    contacts,
                    id))
        == 1;
  }

  /**
   * Gives an account up, and its orders that are not finished.
   *
   * @param id the account
   * @return whether it was in use
   */
  public boolean deactivate(String id) {
    return database.transaction(
        session -> {
          session.change(
              "UPDATE placed SET status = 'invalid' WHERE account = ? AND status IN ('pending',"
                  + " 'ready')",
              id);
          return session.change(
                  "UPDATE account SET status = 'deactivated' WHERE id = ? AND status = 'valid'", id)
              == 1;
        });
  }

  /**
   * Puts another key in the place of an account's.
   *
   * @param id the account
   * @param before the thumbprint of the key that it has
   * @param thumbprint the thumbprint of the new key
   * @param jwk the new key as JSON
   * @return the account that has the new key already; nothing where it was changed
   */
  public Optional<Account> changeKey(String id, String before, String thumbprint, String jwk) {
    return database.transaction(
        session -> {
          Optional<Account> other = byThumbprint(session, thumbprint);
          if (other.isEmpty()) {
            session.change(
                "UPDATE account SET thumbprint = ?, jwk = ? WHERE id = ? AND thumbprint = ?",
                thumbprint,
                jwk,
                id,
                before);
          }
          return other;
        });
  }

  /**
   * {@return how many accounts were made since a moment}
   *
   * @param since the moment
   */
  public int accountsSince(Instant since) {
    return count("SELECT COUNT(*) FROM account WHERE created >= ?", since);
  }

  private int count(String sql, Object... values) {
    return database.transaction(
        session -> session.find(sql, row -> row.getInt(1), values).orElse(0));
  }

  // --- orders

  /**
   * Puts an order on record, with what is to be proven for it.
   *
   * @param placed the order
   * @param provings the names that are to be proven
   * @param challenges how
   */
  public void add(Placed placed, List<Proving> provings, List<Challenge> challenges) {
    int unused =
        database.transaction(
            session -> {
              session.change(
                  "INSERT INTO placed (id, account, status, expires, names, replaces, certificate,"
                      + " error, created) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
                  placed.id(),
                  placed.account(),
                  placed.status().word(),
                  placed.expires(),
                  placed.names(),
                  placed.replaces(),
                  placed.certificate(),
                  placed.error(),
                  placed.created());
              for (Proving one : provings) {
                session.change(
                    "INSERT INTO proving (id, account, placed, name, wildcard, status, expires)"
                        + " VALUES (?, ?, ?, ?, ?, ?, ?)",
                    one.id(),
                    one.account(),
                    one.placed(),
                    one.name(),
                    one.isWildcard() ? 1 : 0,
                    one.status().word(),
                    one.expires());
              }
              for (Challenge one : challenges) {
                session.change(
                    "INSERT INTO challenge (id, proving, type, token, status, validated, error)"
                        + " VALUES (?, ?, ?, ?, ?, ?, ?)",
                    one.id(),
                    one.proving(),
                    one.type(),
                    one.token(),
                    one.status().word(),
                    one.validated(),
                    one.error());
              }
              return 1;
            });
  }

  /**
   * {@return an order}
   *
   * @param id its last word in addresses
   */
  public Optional<Placed> placed(String id) {
    return database.transaction(
        session -> session.find("SELECT * FROM placed WHERE id = ?", Placed::read, id));
  }

  /**
   * {@return the orders of an account, the latest first}
   *
   * @param from how many are passed over
   * @param most how many at most
   */
  public List<Placed> placedBy(String account, int from, int most) {
    return database.transaction(
        session ->
            session.all(
                "SELECT * FROM placed WHERE account = ? ORDER BY created DESC, id LIMIT ? OFFSET ?",
                Placed::read,
                account,
                most,
                from));
  }

  /**
   * Moves an order on, if it stands where it is thought to stand.
   *
   * @param id the order
   * @param from where it stands
   * @param to where it goes; one of the ways out of that
   * @param error why it failed, as JSON; empty where it did not
   * @param now the moment
   * @return whether it was moved
   */
  public boolean move(String id, OrderState from, OrderState to, String error, Instant now) {
    if (!from.ways().contains(to)) {
      throw new IllegalArgumentException(from + " leads to " + from.ways() + ", not to " + to);
    }
    return database.transaction(
            session ->
                session.change(
                    "UPDATE placed SET status = ?, error = ?, moved = ? WHERE id = ? AND status = ?",
                    to.word(),
                    error,
                    now,
                    id,
                    from.word()))
        == 1;
  }

  /**
   * Ends what nobody goes on with: orders and authorizations whose time is over, and orders whose
   * certificate was being made by a process that is gone. What was issued for such an order is on
   * record with it in the same moment as that it is valid; so nothing was handed out.
   *
   * @param now the moment
   * @param stuckSince orders that are being finished since before that have nobody who does it
   * @param over why those failed whose time is over, as JSON
   * @param interrupted why those failed that were interrupted, as JSON
   * @return how many orders were ended
   */
  public int settle(Instant now, Instant stuckSince, String over, String interrupted) {
    return database.transaction(
        session -> {
          int ended =
              session.change(
                  "UPDATE placed SET status = 'invalid', error = ?, moved = ? WHERE status IN"
                      + " ('pending', 'ready') AND expires < ?",
                  over,
                  now,
                  now);
          ended +=
              session.change(
                  "UPDATE placed SET status = 'valid', moved = ? WHERE status = 'processing' AND"
                      + " certificate <> ''",
                  now);
          ended +=
              session.change(
                  "UPDATE placed SET status = 'invalid', error = ?, moved = ? WHERE status ="
                      + " 'processing' AND moved <= ? AND certificate = ''",
                  interrupted,
                  now,
                  stuckSince);
          session.change(
              "UPDATE proving SET status = 'expired' WHERE status IN ('pending', 'valid') AND"
                  + " expires < ?",
              now);
          session.change(
              "UPDATE challenge SET status = 'invalid', error = ?, moved = ? WHERE status IN"
                  + " ('pending', 'processing') AND proving IN (SELECT id FROM proving WHERE status"
                  + " IN ('expired', 'invalid', 'deactivated'))",
              over,
              now);
          return ended;
        });
  }

  /**
   * Puts the certificate of an order on record, and marks the one that it replaces.
   *
   * @param replaced the serial number of the one that it replaces, in hexadecimal; empty for none
   * @return whether the order was waiting for it
   */
  public boolean certify(Certified certificate, String replaced) {
    return database.transaction(
        session -> {
          boolean waiting =
              session.change(
                      "UPDATE placed SET status = 'valid', certificate = ? WHERE id = ? AND status ="
                          + " 'processing'",
                      certificate.id(),
                      certificate.placed())
                  == 1;
          if (waiting) {
            session.change(
                "INSERT INTO certified (id, account, placed, serial, chain, issued, replaced)"
                    + " VALUES (?, ?, ?, ?, ?, ?, 0)",
                certificate.id(),
                certificate.account(),
                certificate.placed(),
                certificate.serial(),
                certificate.chain(),
                certificate.issued());
            session.change("UPDATE certified SET replaced = 1 WHERE serial = ?", replaced);
          }
          return waiting;
        });
  }

  // --- proofs

  /**
   * {@return what is proven for an order}
   *
   * @param placed the order
   */
  public List<Proving> provings(String placed) {
    return database.transaction(
        session ->
            session.all(
                "SELECT * FROM proving WHERE placed = ? ORDER BY id", Proving::read, placed));
  }

  /**
   * {@return one of them}
   *
   * @param id its last word in addresses
   */
  public Optional<Proving> proving(String id) {
    return database.transaction(
        session -> session.find("SELECT * FROM proving WHERE id = ?", Proving::read, id));
  }

  /**
   * {@return the ways to prove a name}
   *
   * @param proving the name
   */
  public List<Challenge> challenges(String proving) {
    return database.transaction(
        session ->
            session.all(
                "SELECT * FROM challenge WHERE proving = ? ORDER BY type",
                Challenge::read,
                proving));
  }

  /**
   * {@return one of them}
   *
   * @param id its last word in addresses
   */
  public Optional<Challenge> challenge(String id) {
    return database.transaction(
        session -> session.find("SELECT * FROM challenge WHERE id = ?", Challenge::read, id));
  }

  /**
   * {@return challenges that are looked at since before a moment, and that somebody has to look at
   * again}
   *
   * @param before the moment
   */
  public List<Challenge> unfinished(Instant before) {
    return database.transaction(
        session ->
            session.all(
                "SELECT * FROM challenge WHERE status = 'processing' AND moved <= ? ORDER BY id"
                    + " LIMIT 1000",
                Challenge::read,
                before));
  }

  /**
   * Begins to look at a challenge.
   *
   * @param id the challenge
   * @param now the moment
   * @return whether nobody had begun before
   */
  public boolean begin(String id, Instant now) {
    return database.transaction(
            session ->
                session.change(
                    "UPDATE challenge SET status = 'processing', moved = ? WHERE id = ? AND status"
                        + " = 'pending'",
                    now,
                    id))
        == 1;
  }

  /**
   * Says that a challenge is still looked at.
   *
   * @param id the challenge
   * @param now the moment
   */
  public void keepsLooking(String id, Instant now) {
    int unused =
        database.transaction(
            session ->
                session.change(
                    "UPDATE challenge SET moved = ? WHERE id = ? AND status = 'processing'",
                    now,
                    id));
  }

  /**
   * {@return whether no other process has these records open: a shared database alone allows it}
   */
  public boolean isAlone() {
    return database.isAlone();
  }

  /** {@return whether the database does not answer just now; it is not asked while that is so} */
  public boolean isAway() {
    return database.isAway();
  }

  /**
   * From now on a database on another host that does not answer in a moment is away: for who has to
   * answer others meanwhile.
   */
  public void waitForMomentsOnly() {
    database.waitForMomentsOnly();
  }

  /**
   * {@return when the order was placed that has to be over before one more is; nothing where one
   * may be placed now}
   *
   * @param account the account; empty for all
   * @param since the beginning of the time that counts
   * @param most how many orders may be placed in it
   */
  public Optional<Instant> placedAgain(String account, Instant since, int most) {
    return database.transaction(
        session -> {
          return account.isEmpty()
              ? session.find(
                  "SELECT created FROM placed WHERE created >= ? ORDER BY created DESC LIMIT 1"
                      + " OFFSET ?",
                  row -> Database.moment(row, "created"),
                  since,
                  most - 1)
              : session.find(
                  "SELECT created FROM placed WHERE account = ? AND created >= ? ORDER BY"
                      + " created DESC LIMIT 1 OFFSET ?",
                  row -> Database.moment(row, "created"),
                  account,
                  since,
                  most - 1);
        });
  }

  /**
   * A challenge is met: so is what it is for, and the order is ready when all is.
   *
   * @param now the moment
   * @return whether it was waited for
   */
  public boolean met(Challenge challenge, Instant now) {
    return database.transaction(
        session -> {
          hold(session, challenge);
          if (session.change(
                  "UPDATE challenge SET status = 'valid', validated = ? WHERE id = ? AND status ="
                      + " 'processing'",
                  now,
                  challenge.id())
              != 1) {
            return false;
          }
          session.change(
              "UPDATE proving SET status = 'valid' WHERE id = ? AND status = 'pending'",
              challenge.proving());
          session.change(
              "UPDATE placed SET status = 'ready' WHERE status = 'pending' AND id = (SELECT placed"
                  + " FROM proving WHERE id = ?) AND NOT EXISTS (SELECT id FROM proving WHERE placed"
                  + " = (SELECT placed FROM proving WHERE id = ?) AND status <> 'valid')",
              challenge.proving(),
              challenge.proving());
          return true;
        });
  }

  /**
   * Holds the order of a challenge until the transaction ends: two challenges that are met at the
   * same moment would else each see the other as open, and the order would never be ready.
   */
  private static void hold(Session session, Challenge challenge) throws SQLException {
    int unused =
        session.change(
            "UPDATE placed SET expires = expires WHERE id = (SELECT placed FROM proving WHERE id ="
                + " ?)",
            challenge.proving());
  }

  /**
   * A challenge failed: so do what it is for, and the order.
   *
   * @param error why, as JSON
   * @return whether it was waited for
   */
  public boolean failed(Challenge challenge, String error) {
    return database.transaction(
        session -> {
          hold(session, challenge);
          if (session.change(
                  "UPDATE challenge SET status = 'invalid', error = ? WHERE id = ? AND status ="
                      + " 'processing'",
                  error,
                  challenge.id())
              != 1) {
            return false;
          }
          session.change(
              "UPDATE proving SET status = 'invalid' WHERE id = ? AND status = 'pending'",
              challenge.proving());
          session.change(
              "UPDATE placed SET status = 'invalid', error = ? WHERE status = 'pending' AND id ="
                  + " (SELECT placed FROM proving WHERE id = ?)",
              error,
              challenge.proving());
          return true;
        });
  }

  /**
   * Gives up what was proven.
   *
   * @param proving what
   */
  public void giveUp(Proving proving) {
    int unused =
        database.transaction(
            session -> {
              session.change(
                  "UPDATE placed SET status = 'invalid' WHERE id = ? AND status IN ('pending',"
                      + " 'ready')",
                  proving.placed());
              return session.change(
                  "UPDATE proving SET status = 'deactivated' WHERE id = ? AND status IN ('pending',"
                      + " 'valid')",
                  proving.id());
            });
  }

  // --- certificates

  /**
   * {@return a certificate}
   *
   * @param id its last word in addresses
   */
  public Optional<Certified> certified(String id) {
    return database.transaction(
        session -> session.find("SELECT * FROM certified WHERE id = ?", Certified::read, id));
  }

  /**
   * {@return the certificate with a serial number}
   *
   * @param serial the serial number in hexadecimal
   */
  public Optional<Certified> certifiedAs(String serial) {
    return database.transaction(
        session ->
            session.find("SELECT * FROM certified WHERE serial = ?", Certified::read, serial));
  }

  /**
   * {@return the latest certificates}
   *
   * @param most how many at most
   */
  public List<Certified> latest(int most) {
    return database.transaction(
        session ->
            session.all(
                "SELECT * FROM certified ORDER BY issued DESC, id LIMIT ?", Certified::read, most));
  }

  /**
   * {@return whether an account has proven all of these names and the proofs still hold}
   *
   * @param names the names, each behind its type and a colon
   * @param now the moment
   */
  public boolean hasProven(String account, List<String> names, Instant now) {
    List<String> left = new ArrayList<>(names);
    return database.transaction(
        session -> {
          for (String name : List.copyOf(left)) {
            boolean wildcard = name.startsWith("dns:*.");
            String bare = wildcard ? "dns:" + name.substring("dns:*.".length()) : name;
            if (session
                .find(
                    "SELECT id FROM proving WHERE account = ? AND name = ? AND wildcard = ? AND"
                        + " status = 'valid' AND expires > ?",
                    row -> true,
                    account,
                    bare,
                    wildcard ? 1 : 0,
                    now)
                .isEmpty()) {
              return false;
            }
          }
          return true;
        });
  }

  /** {@return why they can't be used any more, if they can't: {@link Database#end}} */
  public Optional<SymbolonException> end() {
    return database.end();
  }

  @Override
  public void close() {
    database.close();
  }
}
