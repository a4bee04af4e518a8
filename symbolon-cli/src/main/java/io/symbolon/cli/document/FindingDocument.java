package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.finding.Finding;
import java.util.Collection;
import java.util.List;

/** A finding. */
public record FindingDocument(
    @JsonPropertyDescription("The kind of finding: docs/findings.md lists all.") String id,
    @JsonPropertyDescription("How bad it is: problem, warning or note.") String level,
    @JsonPropertyDescription("What it speaks of: a file with the position in it, or an address.")
        String where,
    @JsonPropertyDescription("What was seen.") String statement,
    @JsonPropertyDescription("What to do about it; empty where there is nothing to do.")
        String remedy,
    @JsonPropertyDescription("Commands that do it, in this order, for the shell of this system.")
        List<String> commands) {
  static FindingDocument of(Finding finding, CommandText commands) {
    return new FindingDocument(
        finding.id(),
        finding.level().word(),
        finding.where(),
        finding.statement(),
        commands.paragraph(finding.remedy()),
        commands.commands(finding.remedy()));
  }

  /** Findings, in their order. */
  public static List<FindingDocument> all(Collection<Finding> findings, CommandText commands) {
    return findings.stream().map(finding -> of(finding, commands)).toList();
  }
}
