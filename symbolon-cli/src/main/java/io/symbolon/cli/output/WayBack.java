// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.file.Undo;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import java.nio.file.Path;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** How to bring back what one command has replaced, also after others have replaced it again. */
public final class WayBack {
  private WayBack() {}

  /**
   * {@return what brings it back; the moment is named, so that a later command is not undone
   * instead}
   *
   * @param paths the files or folders
   * @param asides where the command that has just ended has kept what it replaced there; empty
   *     where it has only made files
   */
  public static Action of(Collection<Path> paths, Collection<Path> asides) {
    List<Undo.Replacement> all = Undo.replacements(paths);
    Optional<Undo.Replacement> own =
        all.stream()
            .filter(
                one ->
                    asides.isEmpty()
                        || one.versions().stream()
                            .anyMatch(version -> asides.contains(version.kept())))
            .findFirst();
    Action action = Action.of(Task.BRING_BACK, paths);
    return own.map(one -> action.with(Input.AT, one.stamp())).orElse(action);
  }
}
