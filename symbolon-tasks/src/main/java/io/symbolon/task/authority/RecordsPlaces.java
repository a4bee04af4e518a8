// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.IssueRecords;
import io.symbolon.issue.record.SigningAuthority;

/** Where the records of an authority can be. */
public final class RecordsPlaces {
  /** The word for the files of the folder. */
  public static final String FILES = "files";

  /** The word for a database in the folder. */
  public static final String IN_FOLDER = IssueTablesOpener.IN_FOLDER;

  private RecordsPlaces() {}

  /** Moves them to where a word or an address says. */
  static SigningAuthority move(SigningAuthority authority, String place) {
    AuthorityFolder folder = authority.folder();
    if (place.equals(FILES)) {
      return authority.moveRecordsIntoFiles();
    }
    IssueRecords to = new IssueTablesOpener().open(place, folder.folder(), folder.identity());
    try {
      return authority.moveRecords(to, place);
    } catch (RuntimeException e) {
      to.close();
      throw e;
    }
  }
}
