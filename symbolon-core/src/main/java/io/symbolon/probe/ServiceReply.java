// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.text.VisibleText;

/**
 * What a service answers to a {@link ServiceQuestion}.
 *
 * @param outcome what that means for the client
 * @param said the service's own words, or its code
 */
record ServiceReply(Outcome outcome, String said) {
  /** What an answer means. */
  enum Outcome {
    /** The client is served. */
    SERVED,
    /** The client is refused, and the certificate is why. */
    REFUSED,
    /** The client does not get what it asked for; the certificate may be why, or not. */
    WITHHELD,
    /** The answer is none of this protocol. */
    NOT_UNDERSTOOD
  }

  static ServiceReply served(String said) {
    return new ServiceReply(Outcome.SERVED, said);
  }

  static ServiceReply refused(String said) {
    return new ServiceReply(Outcome.REFUSED, said);
  }

  static ServiceReply withheld(String said) {
    return new ServiceReply(Outcome.WITHHELD, said);
  }

  static ServiceReply notUnderstood(String said) {
    return new ServiceReply(Outcome.NOT_UNDERSTOOD, VisibleText.of(said));
  }
}
