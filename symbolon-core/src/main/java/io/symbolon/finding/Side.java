// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

/** One of the two sides of a handshake. */
public enum Side {
  /** The side that is connected to. */
  SERVER,
  /** The side that connects. */
  CLIENT;

  /** {@return the other one} */
  public Side other() {
    return this == SERVER ? CLIENT : SERVER;
  }

  /**
   * In a sentence, such as {@code the server}.
   *
   * @return the text
   */
  public String title() {
    return this == SERVER ? "the server" : "the client";
  }
}
