// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.explain;

import io.symbolon.explain.FailureText;
import java.util.List;
import java.util.Optional;

/**
 * The failures of TLS that texts tell of.
 *
 * @param texts the texts, in the order in which they were named
 */
public record ExplainReport(List<Text> texts) {
  /**
   * One text.
   *
   * @param name what it is called
   * @param notRead a sentence about what of it was not read
   * @param explanations the failures in it
   */
  public record Text(
      String name, Optional<String> notRead, List<FailureText.Explanation> explanations) {}

  /** Copies the list. */
  public ExplainReport {
    texts = List.copyOf(texts);
  }

  /** {@return whether no failure was found in any of them} */
  public boolean isQuiet() {
    return texts.stream().allMatch(text -> text.explanations().isEmpty());
  }
}
