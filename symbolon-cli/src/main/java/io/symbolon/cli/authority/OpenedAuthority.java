// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.output.Output;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.SigningAuthority;
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

  static SigningAuthority of(
      Invocation invocation, AuthorityFolder folder, List<SecretSource> unlock) {
    SigningAuthority authority =
        folder.unlock(invocation.keyPasswords(folder, unlock), new SecureRandom());
    if (folder.recordsPlace().isPresent() || folder.registerLength() < LONG_REGISTER) {
      return authority;
    }
    SigningAuthority moved = RecordsPlaces.move(authority, IssueTablesOpener.IN_FOLDER);
    Path path = folder.folder();
    invocation.closing(moved.folder());
    invocation.notice(
        Finding.of(
            FindingKind.RECORDS_MOVED,
            Output.shown(path.resolve(IssueTablesOpener.NAME)),
            "The register has become long. What is in it was moved into a database in the folder,"
                + " which finds one certificate among a million as fast as among ten. The old files"
                + " are not read any more.",
            "Keep the folder "
                + IssueTablesOpener.NAME
                + " with your backups. To move them back: symbolon authority records "
                + Output.shown(path)
                + " --into files"));
    return moved;
  }
}
