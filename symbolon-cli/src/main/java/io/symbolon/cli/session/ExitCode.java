// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.session;

import io.symbolon.failure.Reason;

/** The exit codes: the same for every command. */
public final class ExitCode {
  public static final int DONE = 0;
  public static final int PROBLEM = 1; // done, but there is a problem, or the handshake was refused
  public static final int USAGE = 2;
  public static final int INPUT = 3; // can't be read, understood or unlocked
  public static final int NOT_WRITTEN = 4;
  public static final int NO_ANSWER = 5;
  public static final int NOT_SEEN = 6; // written, but the running server was not seen to show it
  public static final int DEFECT = 70;

  private ExitCode() {}

  public static int of(Reason reason) {
    return switch (reason) {
      case INVALID_ARGUMENT -> USAGE;
      case UNREADABLE, NOT_UNDERSTOOD, LOCKED, LIMIT_PASSED, UNSUPPORTED -> INPUT;
      case NOT_FOUND,
          AMBIGUOUS,
          INCOMPLETE,
          DOES_NOT_FIT,
          EXISTS,
          NOT_WRITABLE,
          CHANGED,
          NOT_TRUSTED ->
          NOT_WRITTEN;
      case NO_ANSWER -> NO_ANSWER;
      case REFUSED -> PROBLEM;
    };
  }
}
