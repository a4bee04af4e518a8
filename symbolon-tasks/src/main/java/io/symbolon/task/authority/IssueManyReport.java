// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.x509.DistinguishedName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Credentials that were issued.
 *
 * @param job what was asked for
 * @param folder the folder of the authority
 * @param issued each of them, in the order of the list
 */
public record IssueManyReport(IssueManyJob job, AuthorityFolder folder, List<Issued> issued) {
  /**
   * One of them.
   *
   * @param subject whose it is
   * @param passwordFile where its password is, if it has one of its own
   */
  public record Issued(DistinguishedName subject, Path file, Optional<Path> passwordFile) {}

  /** Copies the list. */
  public IssueManyReport {
    issued = List.copyOf(issued);
  }
}
