// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import java.util.OptionalLong;

/** A question is answered with a problem. */
final class Trouble extends Exception {
  private static final long serialVersionUID = 1L;
  private static final long AWAY = 5; // seconds

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

  /** Too much was asked for; with the seconds after which it is worth trying again. */
  static Trouble tooMany(String detail, long again) {
    return new Trouble(
        Problem.of(ProblemType.RATE_LIMITED, detail), OptionalLong.of(Math.max(1, again)));
  }

  /** What is on record can't be asked now: a load balancer turns away. */
  static Trouble away() {
    return new Trouble(
        Problem.of(ProblemType.SERVER_INTERNAL, "the database of the authority does not answer")
            .withStatus(503),
        OptionalLong.of(AWAY));
  }

  static Trouble notFound() {
    return new Trouble(Problem.of(ProblemType.MALFORMED, "there is nothing here").withStatus(404));
  }

  static Trouble unauthorized(String detail) {
    return new Trouble(ProblemType.UNAUTHORIZED, detail);
  }
}
