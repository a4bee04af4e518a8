// SPDX-License-Identifier: Apache-2.0
package io.symbolon.failure;

/** Why something could not be done: the stable part of a {@link SymbolonException}. */
public enum Reason {
  /** An argument is outside what the call accepts. */
  INVALID_ARGUMENT,
  /** A file or folder does not exist or the system does not let us read it. */
  UNREADABLE,
  /** The bytes are not what they claim to be, are cut off, or hold nothing this library knows. */
  NOT_UNDERSTOOD,
  /** The content is protected and no password given opens it. */
  LOCKED,
  /** Reading on would pass one of the limits. */
  LIMIT_PASSED,
  /** The running Java has no algorithm of this name. */
  UNSUPPORTED,
  /** What was asked for is not among what was given. */
  NOT_FOUND,
  /** More than one thing answers to what was asked for. */
  AMBIGUOUS,
  /** Something that must be there is missing, such as an intermediate certificate. */
  INCOMPLETE,
  /** A private key and a certificate that should belong together do not. */
  DOES_NOT_FIT,
  /** The target exists already and replacing it was not asked for. */
  EXISTS,
  /** The target can't be written. */
  NOT_WRITABLE,
  /** Somebody else has changed a file between its being read and its being replaced. */
  CHANGED,
  /** Somebody else controls what would have to be believed or started. */
  NOT_TRUSTED,
  /** Nobody answered at a network address. */
  NO_ANSWER,
  /** Somebody who was asked for it, such as an authority, refused it. */
  REFUSED
}
