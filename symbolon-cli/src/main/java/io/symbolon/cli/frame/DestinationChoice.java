// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.format.Format;
import io.symbolon.task.result.Destination;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.stream.Collectors;

/** Where a result goes, and in which format, as options say it. */
public final class DestinationChoice {
  private DestinationChoice() {}

  /** Where --into says. */
  public static Destination of(GivenOptions given) {
    String into =
        given
            .value("into")
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "No output file is given.",
                        "Use --into FILE, such as --into keystore.p12."));
    return of(into, given.value("as")).ownedBy(given.owner());
  }

  /** Where a text says, in a format that is said or told from the name. */
  public static Destination of(String into, Optional<String> as) {
    Path path = GivenOptions.path(into);
    boolean folder = into.endsWith("/") || into.endsWith("\\") || Files.isDirectory(path);
    Format target = as.map(DestinationChoice::ofWord).orElseGet(() -> ofName(into, folder));
    return Destination.of(path, target, folder);
  }

  /** The format of a word. */
  public static Format ofWord(String word) {
    return Format.ofWord(word)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no format '" + VisibleText.of(word) + "'.",
                    "Say one of " + words() + "."));
  }

  private static Format ofName(String into, boolean folder) {
    if (folder) {
      return Format.PEM;
    }
    return Format.ofName(into)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "The name " + VisibleText.of(into) + " does not tell the format.",
                    "End it in "
                        + endings()
                        + ", or say the format with --as: "
                        + words()
                        + ". A folder ends in /."));
  }

  private static String words() {
    return Format.written().stream().map(Format::word).collect(Collectors.joining(", "));
  }

  private static String endings() {
    return Format.written().stream()
        .flatMap(target -> target.endings().stream().limit(1))
        .collect(Collectors.joining(", "));
  }

  /** Every format with the endings that tell it, for the help. */
  static String help() {
    return Format.written().stream()
        .map(
            target ->
                target.word()
                    + (target.endings().isEmpty()
                        ? ""
                        : " (" + String.join(" ", target.endings()) + ")"))
        .collect(Collectors.joining(", "));
  }
}
