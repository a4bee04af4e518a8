// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

/** Is told how far a survey is. */
@FunctionalInterface
public interface Progress {
  /**
   * One more file was read.
   *
   * @param done how many were read
   * @param total how many there are
   */
  void files(int done, int total);
}
