// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.task.result.WrittenResult;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Where a result went. */
public record WrittenDocument(
    String path,
    String format,
    @JsonPropertyDescription("The files that were written.") List<WrittenFile> files,
    @JsonPropertyDescription("How it is sealed; absent where it lies open.")
        Optional<Sealed> sealed) {
  /** Of what was written. */
  public static WrittenDocument of(WrittenResult result) {
    return new WrittenDocument(
        result.destination().path().toString(),
        result.destination().target().word(),
        result.files().stream().map(WrittenDocument::of).toList(),
        result.sealed().map(how -> new Sealed(how.with(), how.how())));
  }

  private static WrittenFile of(WrittenResult.WrittenFile file) {
    boolean owned = !file.access().owner().isEmpty();
    return new WrittenFile(
        file.path().toString(),
        file.secret(),
        file.access().readers().name().toLowerCase(Locale.ROOT),
        owned ? Optional.of(file.access().owner()) : Optional.empty(),
        owned ? Optional.of(file.access().group()) : Optional.empty(),
        file.aside().map(Path::toString));
  }

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
