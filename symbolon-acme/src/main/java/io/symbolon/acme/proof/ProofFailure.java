// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import org.jspecify.annotations.Nullable;

/** Why something could not be shown. */
final class ProofFailure {
  private ProofFailure() {}

  static SymbolonException of(
      Proof.Task task, Reason reason, String seen, String remedy, @Nullable Throwable cause) {
    return of(task.name().value(), reason, seen, remedy, cause);
  }

  static SymbolonException of(
      String name, Reason reason, String seen, String remedy, @Nullable Throwable cause) {
    return new SymbolonException(
        reason,
        "Control of " + VisibleText.of(name) + " could not be proven.",
        seen,
        remedy,
        cause);
  }
}
