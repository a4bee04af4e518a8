// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.compare;

import io.symbolon.compare.Comparison;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What is the same, renewed or different.
 *
 * @param paths the two sides, the older one first
 * @param comparison the sides, compared
 * @param notices what is to be said of the places of passwords
 */
public record CompareReport(List<Path> paths, Comparison comparison, List<Finding> notices) {
  /** {@return why something of a side could not be read, where that is so} */
  public Optional<SymbolonException> failure() {
    return Stream.of(comparison.one(), comparison.other())
        .flatMap(side -> side.failures().stream())
        .findFirst();
  }
}
