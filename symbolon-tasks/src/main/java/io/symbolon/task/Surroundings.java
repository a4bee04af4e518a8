// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import io.symbolon.acme.Ordering;
import io.symbolon.finding.Finding;
import io.symbolon.survey.Progress;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a task needs from around it. All of it has a default that suits a program without people.
 */
public interface Surroundings {
  /** {@return those of a program: the system's clock and environment, and nobody to ask} */
  static Surroundings ofProgram() {
    return new Surroundings() {};
  }

  /** {@return the clock that says what is expired} */
  default Clock clock() {
    return Clock.systemUTC();
  }

  /** {@return the variables in which passwords may be} */
  default Map<String, String> environment() {
    return System.getenv();
  }

  /** {@return whether a person sees what is asked, so that a password may be asked for unbidden} */
  default boolean isAttended() {
    return false;
  }

  /**
   * Asks a person for a password, which is not shown.
   *
   * @param question what is asked
   * @return the password, which the caller wipes; nothing where nobody can be asked
   */
  default Optional<char[]> askPassword(String question) {
    return Optional.empty();
  }

  /**
   * {@return whether somebody agrees to the terms of service of an authority} Nobody does by the
   * way.
   *
   * @param address the page with the terms, safe to show
   */
  default boolean agreesToTerms(String address) {
    return false;
  }

  /** {@return who is told which step an order has reached} */
  default Ordering.Progress orderProgress() {
    return (step, about) -> {};
  }

  /** {@return who is told how far the reading is} */
  default Progress progress() {
    return (done, total) -> {};
  }

  /**
   * Is told what will not be there afterwards, before anything is asked or written.
   *
   * @param findings what is to be said
   */
  default void beforeWriting(List<Finding> findings) {}
}
