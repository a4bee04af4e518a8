// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.words.Wording;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;

/**
 * The authority of a folder with its key open. Where its register has become so long that reading
 * it would be felt, its records are moved into a database in the folder first.
 */
final class OpenedAuthority {
  private static final long LONG_REGISTER = 8L << 20; // octets: some ten thousand certificates

  private OpenedAuthority() {}

  static SigningAuthority of(TaskRun run, AuthorityFolder folder, List<PasswordSource> unlock) {
    SigningAuthority authority =
        folder.unlock(run.keyPasswords(folder, unlock), new SecureRandom());
    if (folder.recordsPlace().isPresent() || folder.registerLength() < LONG_REGISTER) {
      return authority;
    }
    SigningAuthority moved = RecordsPlaces.move(authority, IssueTablesOpener.IN_FOLDER);
    Path path = folder.folder();
    AuthorityFolder open = run.closing(moved.folder());
    run.notice(
        Finding.of(
            FindingKind.RECORDS_MOVED,
            Wording.shown(open.folder().resolve(IssueTablesOpener.NAME)),
            "The register has become long. What is in it was moved into a database in the folder,"
                + " which finds one certificate among a million as fast as among ten. The old files"
                + " are not read any more.",
            "Keep the folder "
                + IssueTablesOpener.NAME
                + " with your backups. To move them back: symbolon authority records "
                + Wording.shown(path)
                + " "
                + Input.INTO.mention("files")));
    return moved;
  }
}
