// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import java.util.List;
import java.util.Optional;

/** Where a result went. */
public record WrittenDocument(
    String path,
    String format,
    @JsonPropertyDescription("The files that were written.") List<WrittenFile> files,
    @JsonPropertyDescription("How it is sealed; absent where it lies open.")
        Optional<Sealed> sealed) {
  /** A file that was written. */
  public record WrittenFile(
      String path,
      boolean privateKey,
      @JsonPropertyDescription("Who can read it.") String readers,
      Optional<String> owner,
      Optional<String> group,
      @JsonPropertyDescription("Where the file is kept that was there before.")
          Optional<String> replaced) {}

  /** How something is sealed. */
  public record Sealed(
      @JsonPropertyDescription("With which password: where it comes from, never what it is.")
          String with,
      @JsonPropertyDescription("By which algorithms.") String how) {}
}
