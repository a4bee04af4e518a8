// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.configure.ServerReport;
import io.symbolon.finding.Finding;
import java.util.List;

/**
 * The servers of a machine.
 *
 * @param servers each of them
 * @param failures what could not be read
 */
public record OverviewReport(List<ServerReport> servers, List<Finding> failures) {
  /** {@return whether something is a problem} */
  public boolean isProblem() {
    return Finding.anyProblem(failures)
        || servers.stream().anyMatch(one -> Finding.anyProblem(one.allFindings()));
  }
}
