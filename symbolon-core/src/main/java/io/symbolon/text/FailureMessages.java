// SPDX-License-Identifier: Apache-2.0
package io.symbolon.text;

/** What an exception of the platform says, with the deepest cause, safe to show. */
public final class FailureMessages {
  private FailureMessages() {}

  /** The message of an exception, and that of its deepest cause where it is another. */
  public static String of(Throwable e) {
    Throwable deepest = e;
    while (deepest.getCause() != null && deepest.getCause() != deepest) {
      deepest = deepest.getCause();
    }
    String message = String.valueOf(e.getMessage());
    String last = String.valueOf(deepest.getMessage());
    return VisibleText.of(message.contains(last) ? message : message + ": " + last);
  }
}
