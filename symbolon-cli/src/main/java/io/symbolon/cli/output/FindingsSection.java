// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.finding.Finding;
import java.util.List;

/** The findings of a command under a heading of their own, where there are any. */
public record FindingsSection(Output output) {
  public void print(List<Finding> findings) {
    if (!findings.isEmpty()) {
      output.line("");
      output.line(output.paint().heading("Findings"));
      FindingsText.print(output, findings);
    }
  }
}
