// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import java.util.Collection;
import java.util.List;

/** What stands in the place of a command's document when the command failed. */
public record FailureDocument(
    @JsonPropertyDescription("The command.") String command,
    @JsonPropertyDescription("Always true: the command did not do its work.") boolean failed,
    @JsonPropertyDescription("Why.") List<FindingDocument> findings) {
  /** The failure as the one finding. */
  public static FailureDocument of(
      String command, SymbolonException failure, CommandText commands) {
    return of(command, List.of(Finding.of(failure, Level.PROBLEM)), commands);
  }

  /** What kept the command from its work. */
  public static FailureDocument of(
      String command, Collection<Finding> findings, CommandText commands) {
    return new FailureDocument(command, true, FindingDocument.all(findings, commands));
  }
}
