// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.finding.Finding;
import java.util.List;

/**
 * What became of each certificate.
 *
 * @param all each of them
 * @param findings what is to be said
 */
public record RenewReport(List<Renewed> all, List<Finding> findings) {
  /** Copies the lists. */
  public RenewReport {
    all = List.copyOf(all);
    findings = List.copyOf(findings);
  }
}
