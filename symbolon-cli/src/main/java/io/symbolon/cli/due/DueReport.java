// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.due;

import io.symbolon.cli.document.DueDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.output.CommandText;
import io.symbolon.due.DueItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.x509.Certificate;
import java.time.Instant;
import java.util.List;
import java.util.Locale;

/**
 * What ends, and what of it is due.
 *
 * @param items everything, what ends first first
 * @param now the moment that counts as now
 * @param until what ends before this is due
 * @param findings what could not be looked at
 */
record DueReport(List<DueItem> items, Instant now, Instant until, List<Finding> findings) {
  boolean isDue(DueItem item) {
    return item.ends().isBefore(until);
  }

  /** How many problems there were with what was named. */
  int notLookedAt() {
    return (int) findings.stream().filter(one -> one.level() == Level.PROBLEM).count();
  }

  List<DueItem> due() {
    return items.stream().filter(this::isDue).toList();
  }

  static String word(DueItem item) {
    return item.kind().name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  DueDocument document(CommandText commands) {
    return new DueDocument(
        "due",
        now.toString(),
        until.toString(),
        items.stream()
            .map(
                one ->
                    new DueDocument.Ending(
                        word(one),
                        one.name(),
                        one.ends().toString(),
                        one.days(now),
                        isDue(one),
                        one.uses(),
                        one.certificate().map(Certificate::sha256),
                        one.remedy().advice(),
                        commands.commands(one.remedy())))
            .toList(),
        FindingDocument.all(findings, commands));
  }
}
