// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Ledger;

/**
 * Where the records of an authority are, and what is in them.
 *
 * @param folder the folder of the authority
 * @param ledger what is issued and revoked
 * @param moved whether they were moved
 */
public record RecordsReport(AuthorityFolder folder, Ledger ledger, boolean moved) {
  /** {@return the place, in words} */
  public String where() {
    String place = folder.recordsPlace().orElse(RecordsPlaces.FILES);
    return switch (place) {
      case RecordsPlaces.FILES -> "the files of " + folder.folder();
      case IssueTablesOpener.IN_FOLDER ->
          "the database " + folder.folder().resolve(IssueTablesOpener.NAME);
      default -> IssueTablesOpener.shown(place);
    };
  }

  /** {@return the place, as a word or an address without its password} */
  public String place() {
    return folder.recordsPlace().map(IssueTablesOpener::shown).orElse(RecordsPlaces.FILES);
  }

  /** {@return whether every entry is as the authority has signed it} */
  public boolean isWhole() {
    return ledger.findings().stream().noneMatch(one -> one.is(FindingKind.REGISTER_CHANGED));
  }
}
