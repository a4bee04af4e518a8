// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import java.util.Locale;

/** What a file of a described server can hold. */
enum Holds {
  /** The private key. */
  KEY,
  /** The server's own certificate alone. */
  CERTIFICATE,
  /** The certificates between the server's own and the root, in order. */
  INTERMEDIATES,
  /** The root above the server's own certificate. */
  ROOT,
  /** Whose clients it trusts. */
  TRUST,
  /** The revocation lists of these authorities. */
  LISTS;

  String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Whether it is a part of what the server itself shows. */
  boolean isOfServer() {
    return this != TRUST && this != LISTS;
  }
}
