// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Records of every version that there was are opened, brought up to date, and kept. */
class TablesTest {
  @TempDir Path temp;

  private static List<String> statements(String name) throws IOException {
    try (InputStream in =
        Objects.requireNonNull(TablesTest.class.getResourceAsStream(name), name)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8)
          .lines()
          .map(line -> line.replaceFirst(";$", ""))
          .toList();
    }
  }

  private Database with(String... statements) {
    Database database = Database.embedded(temp.resolve("records"));
    int unused =
        database.transaction(
            session -> {
              for (String statement : statements) {
                session.change(statement);
              }
              return 0;
            });
    return database;
  }

  private static int version(Database database, String part) {
    return database.transaction(
        session ->
            session
                .find(
                    "SELECT version FROM tables_version WHERE part = ?", row -> row.getInt(1), part)
                .orElse(0));
  }

  @Test
  void recordsOfTheFirstVersionAreBroughtUpToDate() throws IOException {
    Database database = with(statements("orders-1.sql").toArray(String[]::new));
    try (Records records = Records.in(database)) {
      assertEquals(2, version(database, "orders"));
      assertEquals(Instant.ofEpochSecond(17), records.placed("o1").orElseThrow().created());
      assertTrue(
          records.spend("nonce", Instant.ofEpochSecond(4_000_000_000L)),
          "a table of the second version");
    }
    Database again = Database.embedded(temp.resolve("records"));
    try (Records records = Records.in(again)) {
      assertEquals(2, version(again, "orders"));
      assertTrue(records.placed("o1").isPresent());
    }
  }

  @Test
  void recordsOfANewerVersionAreRefusedAndStayAsTheyAre() {
    Database newer = Database.embedded(temp.resolve("records"));
    try (Records records = Records.in(newer)) {
      assertTrue(records.placed("o1").isEmpty());
      assertEquals(2, version(newer, "orders"));
    }
    Database later = with("UPDATE tables_version SET version = 3 WHERE part = 'orders'");
    SymbolonException refused = assertThrows(SymbolonException.class, () -> Records.in(later));
    assertEquals(Reason.UNSUPPORTED, refused.reason());
    assertTrue(refused.seen().contains("version 3"), refused.seen());
    try (Database still = Database.embedded(temp.resolve("records"))) {
      assertEquals(3, version(still, "orders"));
    }
  }
}
