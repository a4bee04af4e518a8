// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Remedy;

/**
 * A job that has no meaning: something is missing, or two parts of it do not go together. Its
 * {@link #reason()} is {@link Reason#INVALID_ARGUMENT}; nothing was read and nothing changed.
 */
public final class WrongJob extends SymbolonException {
  private static final long serialVersionUID = 1L;

  /**
   * A wrong job.
   *
   * @param seen what is missing or does not fit, as a sentence
   * @param remedy what to say instead, as a sentence
   */
  public WrongJob(String seen, String remedy) {
    super(Reason.INVALID_ARGUMENT, "The job can't be done as it is said.", seen, Remedy.of(remedy));
  }
}
