// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.write;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.convert.InPlaceCompletion;
import io.symbolon.file.Existing;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** Writes a keystore in which a key got its certificate, as the options say. */
public final class InPlace {
  private InPlace() {}

  /**
   * Replaces the keystore by the completed one.
   *
   * @param word the format that was said, where one was
   */
  public static WrittenResult write(
      Invocation invocation,
      ResultOptions options,
      Optional<String> word,
      InPlaceCompletion completion,
      Path store) {
    var edit = completion.edit();
    if (word.isPresent() && !word.get().equals(edit.target().word())) {
      throw Usage.wrong(
          Output.shown(store) + " is " + edit.target().title() + " and stays so.",
          "Leave --as out, or name another file with --into.");
    }
    Destination destination =
        new Destination(store, edit.target(), false)
            .ownedBy(options.owner())
            .expecting(edit.snapshot());
    return WrittenResult.write(
        invocation,
        destination,
        completion.conversion(),
        Existing.REPLACE,
        OutputProtection.of(invocation, options, destination, edit),
        List.of());
  }
}
