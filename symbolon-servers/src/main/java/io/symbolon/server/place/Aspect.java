// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

/** What settings say of a place where a server speaks TLS. */
public enum Aspect {
  /** On which addresses it listens, and whether it speaks TLS there. */
  ADDRESSES("its addresses"),
  /** Who shows a certificate. */
  MODE("who shows a certificate"),
  /** The names by which it is asked for. */
  NAMES("its names"),
  /** What it shows. */
  CERTIFICATE("its certificate"),
  /** Whose clients it trusts. */
  TRUST("whose clients it trusts"),
  /** Which protocol versions it accepts. */
  VERSIONS("the protocol versions"),
  /** Which cipher suites it accepts. */
  CIPHERS("the cipher suites");

  private final String title;

  Aspect(String title) {
    this.title = title;
  }

  /** {@return the words for it} */
  public String title() {
    return title;
  }
}
