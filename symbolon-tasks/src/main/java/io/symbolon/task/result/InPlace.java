// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

import io.symbolon.convert.InPlaceCompletion;
import io.symbolon.file.Existing;
import io.symbolon.format.Format;
import io.symbolon.remedy.Input;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** Writes a keystore in which a key got its certificate, as the options say. */
public final class InPlace {
  private InPlace() {}

  /**
   * Replaces the keystore by the completed one.
   *
   * @param format the format that was said, where one was
   */
  public static WrittenResult write(
      TaskRun run,
      ResultOptions options,
      Optional<Format> format,
      InPlaceCompletion completion,
      Path store) {
    var edit = completion.edit();
    if (format.isPresent() && format.get() != edit.target()) {
      throw new WrongJob(
          VisibleText.of(store.toString()) + " is " + edit.target().title() + " and stays so.",
          "Leave "
              + Input.FORMAT.mention()
              + " out, or name another file with "
              + Input.INTO.mention()
              + ".");
    }
    Destination destination =
        new Destination(store, edit.target(), false)
            .ownedBy(options.owner())
            .expecting(edit.snapshot());
    return WrittenResult.write(
        run,
        destination,
        completion.conversion(),
        Existing.REPLACE,
        OutputProtection.of(run, options, destination, edit),
        List.of());
  }
}
