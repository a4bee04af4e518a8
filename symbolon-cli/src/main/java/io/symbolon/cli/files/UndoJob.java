// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.issue.Lifetime;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What is to be done with what was kept.
 *
 * @param paths the files or the folders that are meant
 * @param action what is done
 * @param at the moment of an earlier replacement, or its beginning
 * @param olderThan how long ago a version was replaced that is forgotten
 * @param keep how many versions of each file stay
 */
record UndoJob(
    List<Path> paths, Action action, Optional<String> at, Optional<Lifetime> olderThan, int keep) {
  /** What is done. */
  enum Action {
    BRING_BACK,
    LIST,
    FORGET
  }

  static UndoJob of(GivenOptions given) {
    List<Path> paths =
        given.arguments().isEmpty()
            ? List.of(Path.of("."))
            : given.paths().stream()
                .map(Path::normalize)
                .map(path -> path.toString().isEmpty() ? Path.of(".") : path)
                .toList();
    boolean forget = given.has("forget");
    if (forget && (given.has("list") || given.has("at"))) {
      throw Usage.wrong(
          "--forget goes with --older-than and --keep alone.", "Leave --list and --at out.");
    }
    if (!forget && (given.has("older-than") || given.has("keep"))) {
      throw Usage.wrong(
          "--older-than and --keep say what --forget removes.", "Add --forget, or leave them out.");
    }
    return new UndoJob(
        paths,
        forget ? Action.FORGET : given.has("list") ? Action.LIST : Action.BRING_BACK,
        given.value("at"),
        given.value("older-than").map(Lifetime::parse),
        given.value("keep").map(UndoJob::number).orElse(0));
  }

  private static int number(String text) {
    try {
      return Math.max(0, Integer.parseInt(text));
    } catch (NumberFormatException e) {
      throw Usage.wrong(
          "'" + Output.shown(text) + "' is not a number.", "Say, for example, --keep 3.");
    }
  }
}
