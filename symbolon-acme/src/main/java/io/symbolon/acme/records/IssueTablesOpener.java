// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.records;

import io.symbolon.acme.beside.BesideRecords;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.IssueRecords;
import io.symbolon.issue.record.IssueRecordsOpener;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** Opens the records of an authority: in the database of its folder, or in a database elsewhere. */
public final class IssueTablesOpener implements IssueRecordsOpener {
  /** The place that stands for the database in the folder. */
  public static final String IN_FOLDER = "folder";

  /** The folder of that database, in the folder of the authority. */
  public static final String NAME = "records";

  private static final String POSTGRESQL = "jdbc:postgresql:";
  private static final Duration WAIT = Duration.ofSeconds(60);
  private static final int PAUSE = 100; // milliseconds

  /** For the service loader. */
  public IssueTablesOpener() {}

  /** {@return a place as people may see it: without a password} */
  public static String shown(String place) {
    return Database.withoutSecrets(place);
  }

  @Override
  public IssueRecords open(String place, Path folder, String authority) {
    if (!place.equals(IN_FOLDER) && !place.startsWith(POSTGRESQL)) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The records of the authority were not opened.",
          "There is no driver for '" + VisibleText.of(shown(place)) + "'.",
          "Give an address that begins with " + POSTGRESQL);
    }
    return place.equals(IN_FOLDER)
        ? inFolder(folder.resolve(NAME), authority)
        : IssueTables.in(Database.at(place), authority, Database.withoutSecrets(place), true);
  }

  /** Where another process has them open: through it, or once it has closed them. */
  private static IssueRecords inFolder(Path records, String authority) {
    Instant end = Instant.now().plus(WAIT);
    while (true) {
      Optional<IssueRecords> beside = BesideRecords.find(records);
      if (beside.isPresent()) {
        return beside.get();
      }
      try {
        return IssueTables.in(Database.embedded(records), authority, records.toString(), true);
      } catch (Database.InUseException e) {
        await(e, end);
      }
    }
  }

  /**
   * {@return the database in a folder, once no other command has it open}
   *
   * @param records its folder
   * @throws io.symbolon.failure.SymbolonException if a process has it open and shares it: that one
   *     stays
   */
  public static Database alone(Path records) {
    Instant end = Instant.now().plus(WAIT);
    while (true) {
      try {
        return Database.embedded(records);
      } catch (Database.InUseException e) {
        Optional<IssueRecords> beside = BesideRecords.find(records);
        if (beside.isPresent()) {
          beside.get().close();
          throw e;
        }
        await(e, end);
      }
    }
  }

  private static void await(Database.InUseException e, Instant end) {
    if (Instant.now().isAfter(end)) {
      throw e;
    }
    try {
      Thread.sleep(PAUSE);
    } catch (InterruptedException interrupted) {
      Thread.currentThread().interrupt();
      throw e;
    }
  }
}
