// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.configure.ServerReport;
import io.symbolon.configure.ServerTls;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.server.Installation;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.Machine;
import io.symbolon.task.TaskRun;
import java.util.ArrayList;
import java.util.List;

/** Reads every server that is found in the usual places of this machine. */
public final class OverviewJob {
  /** A job. */
  public OverviewJob() {}

  /**
   * Reads them. One that can't be read does not stop the others.
   *
   * @param run what it is done in
   * @return what was read, and what was not
   */
  public OverviewReport run(TaskRun run) {
    Machine machine = Machine.here();
    List<ServerReport> reports = new ArrayList<>();
    List<Finding> failures = new ArrayList<>();
    for (Server server : Servers.all()) {
      for (Installation installation : server.find(machine)) {
        try {
          reports.add(
              ServerTls.of(
                      server, machine, installation, run.surveyor(List.of()), run.around().clock())
                  .read());
        } catch (SymbolonException e) {
          failures.add(Finding.of(e, Level.PROBLEM));
        }
      }
    }
    return new OverviewReport(reports, failures);
  }
}
