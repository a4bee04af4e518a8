// SPDX-License-Identifier: Apache-2.0
package io.symbolon.format;

/** What a {@link Format} can do. */
public enum Ability {
  /** It is text, for a person to paste. */
  TEXT,
  /** It has a place for a private key. */
  KEYS,
  /** It has a place for more private keys than one. */
  SEVERAL_KEYS,
  /** It has a place for more certificates than one. */
  CHAINS,
  /** It has a place for requests and revocation lists. */
  REQUESTS,
  /** It can be there and hold nothing. */
  CONTAINER,
  /** Its entries have names. */
  ALIASES,
  /** All of it has one password. */
  STORE_PASSWORD,
  /** A private key in it can have a password of its own. */
  ENTRY_PASSWORDS,
  /** How strongly it is protected can be chosen. */
  CHOSEN_PROTECTION,
  /** Content can be written into a folder, each thing in a file of its own. */
  FOLDERS,
  /** Its protection is outdated, whatever the password. */
  OUTDATED
}
