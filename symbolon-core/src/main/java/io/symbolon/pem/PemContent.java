// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.util.List;

/**
 * What a text holds.
 *
 * @param blocks the blocks that could be read, in order
 * @param flaws what was wrong, in order
 */
public record PemContent(List<PemBlock> blocks, List<PemFlaw> flaws) {
  /** Copies the lists. */
  public PemContent {
    blocks = List.copyOf(blocks);
    flaws = List.copyOf(flaws);
  }

  /** Whether the text held neither a block nor the remains of one. */
  public boolean isEmpty() {
    return blocks.isEmpty() && flaws.isEmpty();
  }
}
