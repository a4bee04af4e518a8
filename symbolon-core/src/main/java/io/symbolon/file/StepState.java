// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.util.Set;

/**
 * Where a step stands, by what its record holds. Each is ended by the process that holds the
 * record; when that dies, the system lets go of the record's lock, and the next command of the
 * account that writes goes on from the same place ({@link Recovery}).
 */
enum StepState {
  /** It has its number, and nothing is made. Left behind: the record is removed. */
  NUMBERED,
  /**
   * What it has made lies in folders of its own and counts not yet, or no more. Left behind: those
   * folders and the record are removed.
   */
  PREPARED,
  /**
   * Its journal is on the disk, so it counts. Left behind: it is finished; where a file was changed
   * by somebody else since, it is taken back.
   */
  COMMITTED,
  /** It is being taken back. Left behind: the rest is taken back. */
  TURNED_BACK,
  /** Nothing of it is anywhere any more. */
  ENDED;

  /** {@return what can come of it; nothing where it is the end} */
  Set<StepState> ways() {
    return switch (this) {
      case NUMBERED -> Set.of(PREPARED, ENDED);
      case PREPARED -> Set.of(COMMITTED, ENDED);
      case COMMITTED -> Set.of(TURNED_BACK, PREPARED);
      case TURNED_BACK -> Set.of(PREPARED);
      case ENDED -> Set.of();
    };
  }

  /**
   * Says that the step goes on.
   *
   * @throws IllegalStateException if there is no such way
   */
  void mustLeadTo(StepState next) {
    if (next != this && !ways().contains(next)) {
      throw new IllegalStateException("a step that is " + this + " can't be " + next);
    }
  }
}
