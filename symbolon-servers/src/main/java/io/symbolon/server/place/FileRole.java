// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

/** What a server uses a file for. */
public enum FileRole {
  /** Its certificate, with or without the chain. */
  CERTIFICATE("certificate"),
  /** More of its chain. */
  CHAIN("chain"),
  /** Its private key. */
  KEY("private key"),
  /** Its private key with the chain. */
  KEYSTORE("keystore"),
  /** Whose clients it trusts. */
  TRUST("trust for clients"),
  /** Which certificates of clients are revoked. */
  LISTS("revocation lists"),
  /** A password. */
  PASSWORD("password");

  private final String title;

  FileRole(String title) {
    this.title = title;
  }

  /** {@return the words for it} */
  public String title() {
    return title;
  }

  /** {@return whether a file of this role may hold a secret} */
  public boolean isSecret() {
    return this == KEY || this == KEYSTORE || this == PASSWORD;
  }

  /** {@return whether it is a part of the server's own credential} */
  public boolean isOfServer() {
    return this == CERTIFICATE || this == CHAIN || this == KEY || this == KEYSTORE;
  }
}
