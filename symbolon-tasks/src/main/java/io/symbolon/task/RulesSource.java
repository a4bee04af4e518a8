// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import io.symbolon.issue.rule.Rules;
import io.symbolon.rules.RulesFile;
import java.nio.file.Path;
import java.util.Optional;

/**
 * Where the rules of a receiver are written.
 *
 * @param file their file, in YAML
 * @param variant which of several variants is meant
 */
public record RulesSource(Path file, Optional<String> variant) {
  /**
   * {@return the rules}
   *
   * @throws io.symbolon.failure.SymbolonException if the file holds none, or no such variant
   */
  public Rules read() {
    return RulesFile.read(file, variant);
  }
}
