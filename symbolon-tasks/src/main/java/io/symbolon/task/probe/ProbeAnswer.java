// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.probe;

import io.symbolon.finding.Finding;
import io.symbolon.probe.ProbeReport;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What a running server does.
 *
 * @param report what was seen
 * @param findings everything that is to be said, the worst first
 * @param into the file into which the server's certificates were saved
 */
public record ProbeAnswer(ProbeReport report, List<Finding> findings, Optional<Path> into) {
  /** Copies the list. */
  public ProbeAnswer {
    findings = List.copyOf(findings);
  }
}
