// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import java.util.concurrent.atomic.AtomicBoolean;

/**
 * What an authority has signed and not yet written down. Whoever has it makes everything ready to
 * hand it out, lets it be {@link #record() recorded}, and hands it out then: in this order nothing
 * is on record that nobody has, and nothing is handed out that is not on record.
 *
 * @param <T> what was signed
 */
public final class Signed<T> {
  private final T value;
  private final Runnable recorder;
  private final AtomicBoolean recorded = new AtomicBoolean();

  Signed(T value, Runnable recorder) {
    this.value = value;
    this.recorder = recorder;
  }

  /** {@return what was signed} */
  public T value() {
    return value;
  }

  /**
   * Writes it down in the authority's folder; a second time does nothing.
   *
   * @throws io.symbolon.failure.SymbolonException if the folder can't be written; then it is not on
   *     record and must not be handed out
   */
  public void record() {
    if (recorded.compareAndSet(false, true)) {
      recorder.run();
    }
  }
}
