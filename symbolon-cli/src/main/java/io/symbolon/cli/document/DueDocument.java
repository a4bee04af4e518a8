// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.due.DueItem;
import io.symbolon.task.due.DueReport;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The document of due. */
public record DueDocument(
    String command,
    @JsonPropertyDescription("The moment that counted as now.") String now,
    @JsonPropertyDescription("What ends before this is due.") String until,
    @JsonPropertyDescription("What ends, soonest first.") List<Ending> endings,
    List<FindingDocument> findings) {
  /** Of what ends. */
  public static DueDocument of(DueReport report, CommandText commands) {
    return new DueDocument(
        "due",
        report.now().toString(),
        report.until().toString(),
        report.items().stream()
            .map(
                one ->
                    new Ending(
                        word(one),
                        one.name(),
                        one.ends().toString(),
                        one.days(report.now()),
                        report.isDue(one),
                        one.uses(),
                        one.certificate().map(Certificate::sha256),
                        commands.advice(one.remedy()),
                        commands.commands(one.remedy())))
            .toList(),
        FindingDocument.all(report.findings(), commands));
  }

  /** What it is that ends, as a word for programs. */
  public static String word(DueItem item) {
    return item.kind().name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** Something that ends. */
  public record Ending(
      @JsonPropertyDescription("certificate, authority or revocation-list.") String kind,
      String name,
      String ends,
      @JsonPropertyDescription("Whole days that are left; fewer than 0 where it has ended.")
          long days,
      boolean due,
      @JsonPropertyDescription("Where it is and what it is used for there.") List<String> uses,
      @JsonPropertyDescription("The fingerprint of the certificate, SHA-256 in hexadecimal.")
          Optional<String> sha256,
      @JsonPropertyDescription("What mends it.") String advice,
      @JsonPropertyDescription("Commands that can be given as they are.") List<String> commands) {}
}
