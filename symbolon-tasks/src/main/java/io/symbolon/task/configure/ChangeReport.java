// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.configure.ChangeResult;
import io.symbolon.configure.ServerChange;
import io.symbolon.finding.Finding;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What came of a change.
 *
 * @param result what was done; nothing where it was only planned, or refused
 * @param findings everything that is to be said
 * @param reload whether the running server was to take it
 * @param accounts the folders of the accounts that renew the certificate there
 */
public record ChangeReport(
    ServerChange change,
    Optional<ChangeResult> result,
    List<Finding> findings,
    boolean reload,
    List<Path> accounts) {
  /** One that no account renews. */
  public ChangeReport(
      ServerChange change, Optional<ChangeResult> result, List<Finding> findings, boolean reload) {
    this(change, result, findings, reload, List.of());
  }

  /** {@return whether all or a part of it was put back} */
  public boolean isPutBack() {
    return result
        .filter(
            one ->
                one.end() == ChangeResult.End.PUT_BACK || one.end() == ChangeResult.End.PARTLY_BACK)
        .isPresent();
  }

  /** {@return whether the running server was to take it, and was not seen to do so} */
  public boolean isUnseen() {
    return reload && result.filter(one -> one.end() != ChangeResult.End.RUNNING).isPresent();
  }
}
