// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import java.util.List;
import java.util.function.Function;

/**
 * One thing that a person is asked.
 *
 * @param id the option that the answer becomes, with a number where it can be given again
 * @param label the question
 * @param why what helps to answer it; may be empty
 * @param usual what an empty answer means; may be empty
 * @param judge what is wrong with an answer, or to be said of it; throws what can't be used at all
 */
public record Question(
    String id, String label, String why, String usual, Function<String, List<Remark>> judge) {
  /**
   * Something that is said of an answer.
   *
   * @param text what
   * @param refused whether the answer can't be taken
   */
  public record Remark(String text, boolean refused) {}
}
