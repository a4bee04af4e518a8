// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.party.CipherSuite;
import io.symbolon.party.ProtocolVersion;
import java.util.List;

/**
 * What a server said when it was asked for one protocol version.
 *
 * @param answer whether it takes it
 * @param suites the cipher suites it takes in it, in its own order of preference
 * @param ownOrder whether it chooses by its own order, and not by that of the client
 * @param seen what it said where it does not take it, or why it could not be asked
 */
public record VersionTaken(
    ProtocolVersion version,
    Answer answer,
    List<CipherSuite> suites,
    boolean ownOrder,
    String seen) {
  /** Whether a server takes a version. */
  public enum Answer {
    /** It takes it. */
    TAKEN,
    /** It does not. */
    REFUSED,
    /** It could not be asked, or not to the end. */
    NOT_MADE
  }

  /** Copies the list. */
  public VersionTaken {
    suites = List.copyOf(suites);
  }
}
