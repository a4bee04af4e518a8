// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.finding.Finding;
import java.time.Instant;
import java.util.List;

/**
 * What became of an attempt to replace a setup.
 *
 * @param outcome whether the new one is in use
 * @param at when it was
 * @param findings why it was refused, or what is to be known about it, the worst first
 */
public record ReloadReport(Outcome outcome, Instant at, List<Finding> findings) {
  /** What became of it. */
  public enum Outcome {
    /** New connections use the new one. */
    REPLACED,
    /** The new one is equal to the one in use. */
    UNCHANGED,
    /** The one in use stays. */
    REFUSED
  }

  /** Copies the list. */
  public ReloadReport {
    findings = List.copyOf(findings);
  }

  /** {@return whether the old one stays because something is wrong with the new one} */
  public boolean isRefused() {
    return outcome == Outcome.REFUSED;
  }
}
