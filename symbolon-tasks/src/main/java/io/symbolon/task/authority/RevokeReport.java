// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.finding.Finding;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Ledger;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.nio.file.Path;
import java.util.List;

/**
 * What was revoked, and the list that says so.
 *
 * @param folder the folder of the authority
 * @param certificates what was revoked
 * @param reason why
 * @param ledger what is issued and revoked now
 * @param findings what is to be said
 * @param listWritten whether the list was written; it is left where all were revoked before
 */
public record RevokeReport(
    AuthorityFolder folder,
    List<Certificate> certificates,
    RevocationReason reason,
    Ledger ledger,
    List<Finding> findings,
    boolean listWritten) {
  /** {@return the file of the list} */
  public Path list() {
    return folder.folder().resolve(AuthorityFolder.REVOCATIONS);
  }
}
