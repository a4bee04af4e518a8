// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.acme.beside.BesideServer;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.IssueTables;
import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.acme.records.Records;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.remedy.Input;
import io.symbolon.task.words.Wording;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.Optional;

/**
 * The records of an authority that answers, all in one database: what it has issued, its accounts
 * and orders. Where it is the database in the folder, other commands use it through this process.
 */
record ServedRecords(SigningAuthority signing, Records records, Optional<BesideServer> beside)
    implements AutoCloseable {
  /** Opens it; what is still in the files of the folder is moved there first. */
  static ServedRecords open(SigningAuthority plain, Optional<String> wanted, Clock clock) {
    AuthorityFolder folder = plain.folder();
    Optional<String> known = folder.recordsPlace();
    String place = wanted.or(() -> known).orElse(IssueTablesOpener.IN_FOLDER);
    if (known.isPresent() && !known.get().equals(place)) {
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          "The authority does not answer.",
          "Its records are in another database than " + Input.RECORDS.mention() + " says.",
          "Leave "
              + Input.RECORDS.mention()
              + " out to go on with that one. To move them: symbolon authority records "
              + Wording.shown(folder.folder())
              + " "
              + Input.INTO.mention("URL"));
    }
    boolean inFolder = place.equals(IssueTablesOpener.IN_FOLDER);
    Path path = folder.folder().resolve(IssueTablesOpener.NAME);
    Database database = inFolder ? IssueTablesOpener.alone(path) : Database.at(place);
    try {
      IssueTables tables =
          IssueTables.in(database, folder.identity(), inFolder ? path.toString() : place);
      SigningAuthority signing =
          known.isPresent() ? plain.with(tables, place) : plain.moveRecords(tables, place);
      Records records = Records.in(database);
      Optional<BesideServer> beside =
          inFolder
              ? BesideServer.start(path, tables, signing.authority(), new SecureRandom(), clock)
              : Optional.empty();
      return new ServedRecords(signing, records, beside);
    } catch (RuntimeException e) {
      database.close();
      throw e;
    }
  }

  @Override
  public void close() {
    beside.ifPresent(BesideServer::close);
    records.close();
  }
}
