// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.finding.Finding;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.ServerCommand;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What would change so that a server does what is wanted.
 *
 * @param installation the server
 * @param place the place that it is about
 * @param changes the files; those that stay as they are among them
 * @param newFolders folders to be made
 * @param steps what the server's own programs do before the settings are checked, such as to switch
 *     a module on
 * @param findings what is to be said of it
 */
public record Proposal(
    Installation installation,
    ProposedPlace place,
    List<FileChange> changes,
    List<Path> newFolders,
    List<Step> steps,
    List<Finding> findings) {
  /**
   * Something that a program of the server does.
   *
   * @param what what it does, as words
   * @param command the program
   * @param back the program that takes it back; nothing where it changes nothing
   * @param order when it is done
   * @param effect the files that the program will have made, as the server will read them
   */
  public record Step(
      String what,
      ServerCommand command,
      Optional<ServerCommand> back,
      Order order,
      List<FileChange> effect) {
    /** When something is done, beside the files that are written. */
    public enum Order {
      /** Before them; taken back before them as well. */
      BEFORE_FILES,
      /** Behind them; taken back before them. */
      BEHIND_FILES,
      /** Behind them, and it reads them: taken back when they are those of before again. */
      READS_FILES
    }

    /**
     * Copies the effect.
     *
     * @param what what it does
     * @param command the program
     * @param back the program that takes it back
     * @param order when it is done
     * @param effect the files that it makes
     */
    public Step {
      effect = List.copyOf(effect);
    }
  }

  /** Copies the lists. */
  public Proposal {
    changes = List.copyOf(changes);
    newFolders = List.copyOf(newFolders);
    steps = List.copyOf(steps);
    findings = List.copyOf(findings);
  }

  /** {@return the files as they will be, with what the server's programs make} */
  public List<FileChange> view() {
    List<FileChange> all = new ArrayList<>(changes);
    steps.forEach(step -> all.addAll(step.effect()));
    return all;
  }

  /** {@return whether everything is as it is wanted already} */
  public boolean isNothing() {
    return changes.stream().allMatch(FileChange::isNothing) && steps.isEmpty();
  }
}
