// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.truststore;

import io.symbolon.finding.Finding;
import io.symbolon.join.TruststoreContent;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.WrittenResult;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What a truststore trusts now.
 *
 * @param trust what it trusts, and what of that is new
 * @param isAdded whether it was there before
 * @param notices what is to be said of the places of passwords
 * @param result what was written; nothing where all was trusted already
 */
public record TruststoreReport(
    Destination destination,
    TruststoreContent trust,
    boolean isAdded,
    List<Finding> notices,
    Optional<WrittenResult> result) {
  /** {@return everything that is to be said} */
  public List<Finding> findings() {
    List<Finding> findings = new ArrayList<>(trust.findings());
    result.ifPresent(written -> findings.addAll(written.findings()));
    findings.addAll(notices);
    return findings;
  }
}
