// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.configure.ChangeResult;
import io.symbolon.configure.ServerChange;
import io.symbolon.finding.Finding;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A change of a server that was planned and rehearsed. It holds private keys until it is closed.
 */
public final class PlannedChange implements AutoCloseable {
  private final ServerChange change;
  private final List<Finding> findings;

  PlannedChange(ServerChange change, List<Finding> findings) {
    this.change = change;
    this.findings = List.copyOf(findings);
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
    return new ChangeReport(change, Optional.empty(), findings, false);
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
    ChangeResult result = change.apply(reload);
    List<Finding> all = new ArrayList<>(result.findings());
    all.addAll(findings);
    return new ChangeReport(change, Optional.of(result), all, reload);
  }

  @Override
  public void close() {
    change.close();
  }
}
