// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.wire.Problem;
import io.symbolon.acme.wire.ProblemType;
import java.util.OptionalLong;

/** A question is answered with a problem. */
final class Trouble extends Exception {
  private static final long serialVersionUID = 1L;

  private final transient Problem problem;
  private final transient OptionalLong again;

  Trouble(Problem problem) {
    this(problem, OptionalLong.empty());
  }

  Trouble(ProblemType type, String detail) {
    this(Problem.of(type, detail));
  }

  /** With the seconds after which it is worth trying again. */
  Trouble(Problem problem, OptionalLong again) {
    super(problem.detail());
    this.problem = problem;
    this.again = again;
  }

  Problem problem() {
    return problem;
  }

  OptionalLong again() {
    return again;
  }

  static Trouble malformed(String detail) {
    return new Trouble(ProblemType.MALFORMED, detail);
  }

  static Trouble notFound() {
    return new Trouble(Problem.of(ProblemType.MALFORMED, "there is nothing here").withStatus(404));
  }

  static Trouble unauthorized(String detail) {
    return new Trouble(ProblemType.UNAUTHORIZED, detail);
  }
}
