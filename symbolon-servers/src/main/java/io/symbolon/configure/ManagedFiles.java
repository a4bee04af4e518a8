// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.machine.FileView;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** Settings files that say of themselves that another program writes them. */
final class ManagedFiles {
  private static final int HEAD_LINES = 15;
  private static final Pattern SAYS_SO =
      Pattern.compile(
          "(?i)^\\W*((this|the|file|config\\w*|settings|is|was|has|been|auto\\w*)[\\s-]+)*"
              + "(managed|generated|created|maintained|written) by\\b"
              + "|\\b(do not edit|do not modify|don't edit|will be overwritten"
              + "|changes will be lost|managed by)\\b");

  private ManagedFiles() {}

  /** The line with which a file says so. */
  static Optional<String> line(SourceText source) {
    return source
        .text()
        .lines()
        .limit(HEAD_LINES)
        .map(String::strip)
        .filter(line -> line.matches("^(#|;|//|<!--|\\*|/\\*).*"))
        .filter(line -> SAYS_SO.matcher(line).find())
        .findFirst();
  }

  static List<Finding> findings(FileView files, Collection<Path> settings) {
    return settings.stream()
        .flatMap(
            path ->
                files.read(path).stream()
                    .flatMap(read -> line(SourceText.of(path, read.octets())).stream())
                    .map(
                        line ->
                            Finding.of(
                                FindingKind.MANAGED_ELSEWHERE,
                                VisibleText.of(path.toString()),
                                "The file says: " + VisibleText.of(line),
                                "Make the change there as well, or it will be lost.")))
        .toList();
  }
}
