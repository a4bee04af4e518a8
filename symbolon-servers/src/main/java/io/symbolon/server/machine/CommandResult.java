// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

/**
 * What came of a command.
 *
 * @param end how it ended
 * @param exitCode what it ended with; -1 where it did not end by itself
 * @param output what it printed, on both streams; the beginning and the end of very much
 */
public record CommandResult(End end, int exitCode, String output) {
  /** How a command ended. */
  public enum End {
    /** By itself. */
    ENDED,
    /** It was stopped when its time was over. */
    TOO_LONG,
    /** It could not be started. */
    NOT_STARTED,
    /** It was not started, since somebody else controls what it does; the output says why. */
    REFUSED
  }

  /** {@return whether it ended by itself, and well} */
  public boolean isGood() {
    return end == End.ENDED && exitCode == 0;
  }
}
