// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.configure.ChangeResult;
import io.symbolon.configure.ServerChange;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.FolderWork;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A change of a server that was planned and rehearsed. It holds private keys until it is closed.
 */
public final class PlannedChange implements AutoCloseable {
  private final ServerChange change;
  private final List<Finding> findings;
  private final RenewedPlace renewed;

  PlannedChange(ServerChange change, List<Finding> findings, RenewedPlace renewed) {
    this.change = change;
    this.findings = List.copyOf(findings);
    this.renewed = renewed;
  }

  /** {@return the change} */
  public ServerChange change() {
    return change;
  }

  /** {@return what is to be said of it} */
  public List<Finding> findings() {
    return findings;
  }

  /** {@return that nothing was done} */
  public ChangeReport unchanged() {
    return new ChangeReport(change, Optional.empty(), findings, false, renewed.accounts());
  }

  /**
   * Makes the change, unless it is refused: the server's own check decides, and what it refuses is
   * put back.
   *
   * @param reload whether the running server takes it at once, and is asked whether it does what is
   *     wanted; if not, everything is put back
   * @return what came of it
   */
  public ChangeReport apply(boolean reload) {
    if (change.isRefused()) {
      return unchanged();
    }
    List<Path> accounts = renewed.accounts();
    // The account first, as its renewals take it: who takes folders in one order never waits in a
    // ring.
    return accounts.isEmpty()
        ? applied(reload)
        : FolderWork.holding(
            accounts.stream().map(one -> one.resolve("any")).toList(), () -> applied(reload));
  }

  private ChangeReport applied(boolean reload) {
    List<FileItem> record = renewed.items(change);
    boolean inOneStep = !change.files().isEmpty();
    change.noting(inOneStep ? record : List.of());
    ChangeResult result = change.apply(reload);
    boolean stays = result.end() != ChangeResult.End.PUT_BACK;
    if (!inOneStep && stays && !record.isEmpty()) {
      List<WrittenItem> unused = FileSet.write(record);
    }
    List<Finding> all = new ArrayList<>(result.findings());
    all.addAll(findings);
    all.addAll(renewed.findings());
    return new ChangeReport(
        change, Optional.of(result), all, reload, stays ? renewed.accounts() : List.of());
  }

  @Override
  public void close() {
    change.close();
  }
}
