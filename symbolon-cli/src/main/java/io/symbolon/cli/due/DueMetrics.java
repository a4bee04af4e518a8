// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.due;

import io.symbolon.cli.document.DueDocument;
import io.symbolon.due.DueItem;
import io.symbolon.task.due.DueReport;
import io.symbolon.x509.Certificate;
import java.util.HashSet;
import java.util.Set;

/** What ends as text of OpenMetrics, for a monitoring agent. */
final class DueMetrics {
  private DueMetrics() {}

  static String text(DueReport report) {
    StringBuilder text = new StringBuilder();
    text.append("# TYPE symbolon_ends_timestamp_seconds gauge\n")
        .append("# UNIT symbolon_ends_timestamp_seconds seconds\n")
        .append(
            "# HELP symbolon_ends_timestamp_seconds When a certificate or revocation list ends.\n");
    Set<String> seen = new HashSet<>();
    for (DueItem item : report.items()) {
      String labels =
          "{kind=\""
              + DueDocument.word(item)
              + "\",name=\""
              + escaped(item.name())
              + "\",place=\""
              + escaped(item.uses().isEmpty() ? "" : item.uses().get(0))
              + "\",sha256=\""
              + item.certificate().map(Certificate::sha256).orElse("")
              + "\"}";
      if (seen.add(labels)) { // the same labels twice are an error
        text.append("symbolon_ends_timestamp_seconds")
            .append(labels)
            .append(' ')
            .append(item.ends().getEpochSecond())
            .append('\n');
      }
    }
    text.append(
            "# TYPE symbolon_due gauge\n# HELP symbolon_due How many things are due.\nsymbolon_due ")
        .append(report.due().size())
        .append('\n')
        .append("# TYPE symbolon_not_looked_at gauge\n")
        .append(
            "# HELP symbolon_not_looked_at How many files and servers could not be looked at.\n")
        .append("symbolon_not_looked_at ")
        .append(report.notLookedAt())
        .append('\n')
        .append("# TYPE symbolon_looked_timestamp_seconds gauge\n")
        .append("# UNIT symbolon_looked_timestamp_seconds seconds\n")
        .append("# HELP symbolon_looked_timestamp_seconds When this was written.\n")
        .append("symbolon_looked_timestamp_seconds ")
        .append(report.now().getEpochSecond())
        .append("\n# EOF\n");
    return text.toString();
  }

  private static String escaped(String text) {
    return text.replace("\\", "\\\\").replace("\"", "\\\"").replace("\n", "\\n");
  }
}
