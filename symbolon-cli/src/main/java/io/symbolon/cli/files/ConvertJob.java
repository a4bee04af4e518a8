// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.convert.ContentPart;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What is to be converted, and how.
 *
 * @param files the files to read
 * @param unlock the sources of passwords to try on them
 * @param content what of it is meant
 * @param destination where the result goes
 * @param result how it is written
 */
record ConvertJob(
    List<Path> files,
    List<SecretSource> unlock,
    ConvertOptions content,
    Destination destination,
    ResultOptions result) {
  static ConvertJob of(GivenOptions given) {
    return new ConvertJob(
        given.paths(),
        given.unlock(),
        content(given),
        Destination.of(given),
        ResultOptions.of(given));
  }

  /** The parts that can be named. */
  static String words() {
    return Arrays.stream(ContentPart.values())
        .map(ContentPart::word)
        .collect(Collectors.joining(", "));
  }

  private static ConvertOptions content(GivenOptions given) {
    Set<ContentPart> parts = EnumSet.noneOf(ContentPart.class);
    for (String word : given.values("part")) {
      parts.add(
          ContentPart.ofWord(word)
              .orElseThrow(
                  () ->
                      Usage.wrong(
                          "There is no part '" + VisibleText.of(word) + "'.",
                          "Say one of " + words() + ".")));
    }
    Map<String, String> renames = new LinkedHashMap<>();
    for (String rename : given.values("rename")) {
      int equals = rename.lastIndexOf('='); // an old alias may be a whole subject
      if (equals < 1 || equals == rename.length() - 1) {
        throw Usage.wrong(
            "'" + VisibleText.of(rename) + "' names no old and new alias.",
            "Say --rename OLD=NEW, such as --rename 1=ingest.");
      }
      renames.put(rename.substring(0, equals), rename.substring(equals + 1));
    }
    return new ConvertOptions(
        parts, given.values("alias"), given.values("leave-out"), renames, given.has("with-root"));
  }
}
