// SPDX-License-Identifier: Apache-2.0
package io.symbolon.format;

/** What a {@link Format} can do. */
public enum Ability {
  /** It is text, for a person to paste. */
  TEXT,
  /** It has a place for a private key. */
  KEYS,
  /** Programs read one private key from it, the first, whatever else is there. */
  READ_FOR_ONE_KEY,
  /** It has a place for more certificates than one. */
  CHAINS,
  /** It has a place for requests and revocation lists. */
  REQUESTS,
  /** It can be there and hold nothing. */
  CONTAINER,
  /** A certificate can lie in it alone without being a trusted one. */
  TRUST_MARKS,
  /** All of it has one password. */
  STORE_PASSWORD,
  /** Programs open it with one password, for the store and for its keys. */
  READ_WITH_ONE_PASSWORD,
  /** How strongly it is protected can be chosen. */
  CHOSEN_PROTECTION,
  /** Content can be written into a folder, each thing in a file of its own. */
  FOLDERS,
  /** Its protection is outdated, whatever the password. */
  OUTDATED
}
