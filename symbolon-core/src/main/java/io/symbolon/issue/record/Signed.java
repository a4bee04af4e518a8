// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

/**
 * What an authority has signed and not yet written down. Whoever has it makes everything ready to
 * hand it out, lets it be {@link #record() recorded}, and hands it out then. So nothing is handed
 * out that is not on record, and what can't be made ready is not recorded. What fails after that (a
 * kill or a full disk in the moment between) leaves on record what nobody has: see {@link
 * #isRecorded()}.
 *
 * @param <T> what was signed
 */
public final class Signed<T> {
  private final T value;
  private final Runnable recorder;
  private boolean recorded;

  Signed(T value, Runnable recorder) {
    this.value = value;
    this.recorder = recorder;
  }

  /** {@return what was signed} */
  public T value() {
    return value;
  }

  /** {@return whether it is on record} */
  public synchronized boolean isRecorded() {
    return recorded;
  }

  /**
   * Writes it down in the authority's folder; once it is, a second time does nothing.
   *
   * @throws io.symbolon.failure.SymbolonException if the folder can't be written; then it is not on
   *     record and must not be handed out
   */
  public synchronized void record() {
    if (!recorded) {
      recorder.run();
      recorded = true;
    }
  }
}
