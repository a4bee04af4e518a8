// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.finding.Finding;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What would change so that a server does what is wanted.
 *
 * @param installation the server
 * @param place the name that the place will have
 * @param file the settings file it stands in, where another file may have a place of that name
 * @param changes the files; those that stay as they are among them
 * @param newFolders folders to be made
 * @param steps what the server's own programs do before the settings are checked, such as to switch
 *     a module on
 * @param findings what is to be said of it
 */
public record Proposal(
    Installation installation,
    String place,
    Optional<Path> file,
    List<FileChange> changes,
    List<Path> newFolders,
    List<Step> steps,
    List<Finding> findings) {
  /**
   * Something that a program of the server does.
   *
   * @param what what it does, as words
   * @param command the program
   * @param back the program that takes it back
   */
  public record Step(String what, ServerCommand command, ServerCommand back) {}

  /**
   * Copies the lists.
   *
   * @param installation the server
   * @param place the place
   * @param file the settings file it stands in
   * @param changes the files
   * @param newFolders the folders
   * @param steps the steps
   * @param findings the findings
   */
  public Proposal {
    changes = List.copyOf(changes);
    newFolders = List.copyOf(newFolders);
    steps = List.copyOf(steps);
    findings = List.copyOf(findings);
  }

  /** {@return whether everything is as it is wanted already} */
  public boolean isNothing() {
    return changes.stream().allMatch(FileChange::isNothing) && steps.isEmpty();
  }
}
