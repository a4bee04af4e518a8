// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.chain.Credential;
import io.symbolon.finding.Finding;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.task.result.WrittenResult;
import java.util.List;
import java.util.Optional;

/**
 * A credential that was issued, or why none was.
 *
 * @param refusal the problem that kept it from being issued
 * @param issued what was issued
 * @param findings everything that is to be said
 * @param registerDamaged whether something is wrong with the register of the authority
 */
public record IssueReport(
    Optional<Finding> refusal,
    Optional<Issued> issued,
    List<Finding> findings,
    boolean registerDamaged) {
  /**
   * A credential.
   *
   * @param credential the key and its chain
   * @param folder the folder of the authority; nothing where its own key signed it
   * @param alias its alias in a keystore
   * @param result where it went
   */
  public record Issued(
      Credential credential,
      Optional<AuthorityFolder> folder,
      String alias,
      WrittenResult result) {}

  static IssueReport refused(Finding problem, List<Finding> findings) {
    return new IssueReport(Optional.of(problem), Optional.empty(), findings, false);
  }
}
