// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/**
 * The tables of one part of a database, by the steps that lead from one version to the next. The
 * version of a database is stored in the table {@code tables_version}. A released step is never
 * changed: a new one is added. Its statements may be run twice, since the embedded database ends a
 * transaction with each of them.
 */
final class Tables {
  private static final String VERSIONS =
      "CREATE TABLE IF NOT EXISTS tables_version (part VARCHAR(40) PRIMARY KEY,"
          + " version INTEGER NOT NULL)";

  private final String part;
  private final List<List<String>> steps;

  /**
   * The tables of a part.
   *
   * @param part its name in the table of versions
   * @param steps the statements that lead to version 1, to version 2, and so on
   */
  Tables(String part, List<List<String>> steps) {
    this.part = part;
    this.steps = List.copyOf(steps);
  }

  /**
   * Brings a database to the newest version; one that has no version yet may have tables all the
   * same, which the steps let be.
   *
   * @throws SymbolonException if it is of a newer version than this program knows
   */
  int bring(Database.Session session) throws SQLException {
    session.change(VERSIONS);
    Optional<Integer> known =
        session.find(
            "SELECT version FROM tables_version WHERE part = ? FOR UPDATE",
            row -> row.getInt(1),
            part);
    int version = known.orElse(0);
    if (version > steps.size()) {
      throw newer(version);
    }
    for (List<String> step : steps.subList(version, steps.size())) {
      for (String statement : step) {
        session.change(statement);
      }
    }
    if (known.isEmpty()) {
      session.change(
          "INSERT INTO tables_version (part, version) VALUES (?, ?)", part, steps.size());
    } else if (version < steps.size()) {
      session.change("UPDATE tables_version SET version = ? WHERE part = ?", steps.size(), part);
    }
    return version;
  }

  private SymbolonException newer(int version) {
    return new SymbolonException(
        Reason.UNSUPPORTED,
        "The records can't be used. Nothing in them was changed.",
        "Their tables have version "
            + version
            + ", and this Symbolon knows them up to version "
            + steps.size()
            + ": a newer one has written them.",
        "Use that newer Symbolon, or a copy of the records from before.");
  }
}
