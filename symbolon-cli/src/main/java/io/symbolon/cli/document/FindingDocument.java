// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.cli.output.OptionNames;
import io.symbolon.finding.About;
import io.symbolon.finding.Finding;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** A finding. */
public record FindingDocument(
    @JsonPropertyDescription("The kind of finding: docs/findings.md lists all.") String id,
    @JsonPropertyDescription("How bad it is: problem, warning or note.") String level,
    @JsonPropertyDescription(
            "What it speaks of: a file with the position in it, an address, or all that was named.")
        String where,
    @JsonPropertyDescription("What was seen.") String statement,
    @JsonPropertyDescription("What to do about it; empty where there is nothing to do.")
        String remedy,
    @JsonPropertyDescription("Commands that do it, in this order, for the shell of this system.")
        List<String> commands,
    @JsonPropertyDescription("What the sentences speak of, as values; absent where there are none.")
        Optional<AboutDocument> about) {
  /** What a finding speaks of. */
  public record AboutDocument(
      @JsonPropertyDescription("Whose side of a handshake it is: server or client.")
          Optional<String> side,
      Optional<String> file,
      @JsonPropertyDescription("Where in the file.") Optional<String> position,
      @JsonPropertyDescription("The fingerprints of the certificates.")
          Optional<List<String>> certificates,
      @JsonPropertyDescription("The date that matters, such as when a certificate expired.")
          Optional<String> date,
      @JsonPropertyDescription("The names that matter, such as a host that is not covered.")
          Optional<List<String>> names) {
    private static Optional<AboutDocument> of(About about) {
      if (about.equals(About.nothing())) {
        return Optional.empty();
      }
      return Optional.of(
          new AboutDocument(
              about.side().map(Words::of),
              about.file().map(Path::toString),
              Optional.of(about.position()).filter(position -> !position.isEmpty()),
              Optional.of(about.certificates().stream().map(one -> one.sha256()).toList())
                  .filter(all -> !all.isEmpty()),
              about.date().map(Instant::toString),
              Optional.of(about.names()).filter(all -> !all.isEmpty())));
    }
  }

  static FindingDocument of(Finding finding, CommandText commands) {
    return new FindingDocument(
        finding.id(),
        finding.level().word(),
        finding.where().isEmpty() ? commands.named() : finding.where(),
        finding.statement(OptionNames::mention),
        commands.paragraph(finding.remedy()),
        commands.commands(finding.remedy()),
        AboutDocument.of(finding.about()));
  }

  /** Findings, in their order. */
  public static List<FindingDocument> all(Collection<Finding> findings, CommandText commands) {
    return findings.stream().map(finding -> of(finding, commands)).toList();
  }
}
