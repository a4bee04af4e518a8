// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

/** What a {@link Task} can be given beside its files. */
public enum Input {
  /** A file that has still to come from an authority. */
  REPLY,
  /** The name under which clients reach a server. */
  HOST,
  /** A subject. */
  SUBJECT,
  /** Which entry or key is meant. */
  ALIAS,
  /** Which kinds of content are meant. */
  PART,
  /** The format of the result. */
  FORMAT,
  /** Where the result goes. */
  INTO,
  /** That an existing file is replaced. */
  REPLACE,
  /** To whom the result belongs. */
  OWNER,
  /** Where the password comes from that opens what is read. */
  PASSWORD,
  /** A file in which a new strong password is saved for what is written. */
  NEW_PASSWORD_FILE,
  /** Where the password comes from for what is written. */
  SEALED_WITH,
  /** That a private key lies open. */
  UNSEALED,
  /** The password for the keys in what is written. */
  KEY_PASSWORD,
  /** That the root is written as well. */
  ROOT,
  /** The file that the new one shall be like. */
  LIKE,
  /** What a certificate is for. */
  USE,
  /** The kind of a new key. */
  KEY_TYPE,
  /** That a doubt is known and accepted. */
  SIGN_ALL_THE_SAME,
  /** That a chain need not be complete. */
  INCOMPLETE_CHAIN,
  /** That signatures nobody could check are accepted. */
  UNCHECKED_CHAIN,
  /** The authority that signs. */
  AUTHORITY,
  /** The authority above a new one. */
  ABOVE,
  /** Whom to trust. */
  TRUST,
  /** A new name for an entry. */
  RENAME,
  /** That certificates are trusted themselves, and not their authorities. */
  THEMSELVES,
  /** That a truststore is added to. */
  ADD,
  /** The server's files. */
  SERVER,
  /** Whom the server trusts. */
  SERVER_TRUST,
  /** The client's files. */
  CLIENT,
  /** Whom the client trusts. */
  CLIENT_TRUST,
  /** That each of many pairs has a handshake. */
  EVERY_PAIR,
  /** How long to wait. */
  WAIT,
  /** What speaks in clear text before TLS. */
  START_WITH,
  /** Which of several variants of the rules. */
  VARIANT,
  /** The folder of an account at an authority. */
  ACCOUNT,
  /** That everything is shown. */
  DETAILS
}
