// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

/**
 * What is wrong with a text.
 *
 * @param line the line it was first seen on, counted from 1
 * @param kind what kind of flaw it is
 * @param statement what was seen, a sentence
 */
public record PemFlaw(int line, Type kind, String statement) {
  /** Whether the block was lost or read all the same. */
  public enum Type {
    /** The block could not be read; it is not among the blocks. */
    LOST,
    /** The block was read although something was not as it should be. */
    MENDED,
    /** The block was read although another one begins on the line where it ends. */
    GLUED,
    /** Nothing that readers of PEM stumble over, such as text around the blocks. */
    HARMLESS
  }
}
