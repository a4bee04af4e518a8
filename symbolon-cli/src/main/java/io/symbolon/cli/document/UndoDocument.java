// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.file.Undo;
import java.util.List;
import java.util.Optional;

/** The document of undo. */
public record UndoDocument(
    String command,
    @JsonPropertyDescription("The versions that are kept, or were brought back.")
        Optional<List<EarlierVersion>> versions,
    @JsonPropertyDescription("How many versions were removed for good; with --forget.")
        Optional<Integer> forgotten,
    List<FindingDocument> findings) {
  /** An earlier version of a file. */
  public record EarlierVersion(
      String path,
      String replacedAt,
      @JsonPropertyDescription("There was no such file: bringing that back takes it away.")
          boolean absent) {}

  /** Versions that are listed or were brought back. */
  public static UndoDocument of(List<Undo.Version> versions) {
    return new UndoDocument(
        "undo",
        Optional.of(
            versions.stream()
                .map(
                    one ->
                        new EarlierVersion(
                            one.target().toString(), one.replacedAt().toString(), one.absent()))
                .toList()),
        Optional.empty(),
        List.of());
  }

  /** Versions that were removed for good. */
  public static UndoDocument forgotten(int count) {
    return new UndoDocument("undo", Optional.empty(), Optional.of(count), List.of());
  }
}
