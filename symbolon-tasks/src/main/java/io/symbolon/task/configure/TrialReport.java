// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.configure.TrialStep;
import io.symbolon.server.Installation;
import io.symbolon.server.Server;
import java.util.List;

/**
 * What the settings of a server would become in each mode.
 *
 * @param server which server
 * @param there where its settings are
 * @param steps each mode, one on top of the other
 * @param ownFiles whether it was tried with files that were named, and not with made-up ones
 */
public record TrialReport(
    Server server, Installation there, List<TrialStep> steps, boolean ownFiles) {
  /** {@return whether each mode was read back as it was wanted} */
  public boolean isGood() {
    return steps.stream().allMatch(TrialStep::isGood);
  }
}
