// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.due;

import io.symbolon.due.DueItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import java.time.Instant;
import java.util.List;

/**
 * What ends, and what of it is due.
 *
 * @param items everything, what ends first first
 * @param now the moment that counts as now
 * @param until what ends before this is due
 * @param findings what could not be looked at
 */
public record DueReport(List<DueItem> items, Instant now, Instant until, List<Finding> findings) {
  /** Copies the lists. */
  public DueReport {
    items = List.copyOf(items);
    findings = List.copyOf(findings);
  }

  /** {@return whether something is due} */
  public boolean isDue(DueItem item) {
    return item.ends().isBefore(until);
  }

  /** {@return how many problems there were with what was named} */
  public int notLookedAt() {
    return (int) findings.stream().filter(one -> one.level() == Level.PROBLEM).count();
  }

  /** {@return what is due, what ends first first} */
  public List<DueItem> due() {
    return items.stream().filter(this::isDue).toList();
  }

  /** {@return whether nothing is due and everything could be looked at} */
  public boolean isQuiet() {
    return due().isEmpty() && !Finding.anyProblem(findings);
  }
}
