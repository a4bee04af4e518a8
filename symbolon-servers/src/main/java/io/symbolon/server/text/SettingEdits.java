// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.text;

import io.symbolon.file.Privacy;
import io.symbolon.file.Snapshot;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.machine.FileChange;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** The changes of several settings files, gathered while they are proposed. Not for threads. */
public final class SettingEdits {
  private final Map<SourceText, Edits> edits = new LinkedHashMap<>();

  /** No changes yet. */
  public SettingEdits() {}

  /**
   * {@return the changes of a file}
   *
   * @param source its text
   */
  public Edits of(SourceText source) {
    return edits.computeIfAbsent(source, Edits::new);
  }

  /**
   * {@return the files that change}
   *
   * @param octets what a file holds now
   * @param snapshot what tells that it is still that file
   */
  public List<FileChange> changes(
      Function<SourceText, byte[]> octets, Function<Path, Optional<Snapshot>> snapshot) {
    List<FileChange> changes = new ArrayList<>();
    edits.forEach(
        (source, change) -> {
          if (!change.isEmpty()) {
            changes.add(
                new FileChange(
                    source.path(),
                    Optional.of(octets.apply(source)),
                    snapshot.apply(source.path()),
                    change.octets(),
                    true,
                    "settings",
                    Privacy.SYSTEM_DEFAULT,
                    Optional.empty()));
          }
        });
    return changes;
  }
}
