// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.finding.Finding;
import io.symbolon.probe.StartWith;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.place.UsedFile;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What would change so that a program opens connections as it is wanted.
 *
 * @param main its settings file
 * @param changes the files
 * @param newFolders folders to be made
 * @param files what the settings name then
 * @param uses how it is used
 * @param startWith what speaks in clear text before TLS
 * @param findings what is to be said of it
 */
public record ClientProposal(
    Path main,
    List<FileChange> changes,
    List<Path> newFolders,
    List<UsedFile> files,
    List<Use> uses,
    Optional<StartWith> startWith,
    List<Finding> findings) {
  /**
   * A way to use the settings.
   *
   * @param what for what, as words
   * @param line the line to be pasted there
   */
  public record Use(String what, String line) {}

  /** Copies the lists. */
  public ClientProposal {
    changes = List.copyOf(changes);
    newFolders = List.copyOf(newFolders);
    files = List.copyOf(files);
    uses = List.copyOf(uses);
    findings = List.copyOf(findings);
  }
}
