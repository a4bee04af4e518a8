// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import java.util.List;

/** The document of explain. */
public record ExplainDocument(
    String command,
    @JsonPropertyDescription("What of the texts was not read, in sentences.") List<String> notRead,
    List<ExplainedFailure> failures,
    List<FindingDocument> findings) {
  /** A failure in a text. */
  public record ExplainedFailure(
      @JsonPropertyDescription("The file, or what else the text is.") String where,
      @JsonPropertyDescription("The line where it first stands, from 1.") int line,
      @JsonPropertyDescription("How many times it stands there.") int times,
      String text,
      @JsonPropertyDescription("The kind of the finding that explains it.") String finding) {}
}
