// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

/** What Symbolon can be asked to do next. */
public enum Task {
  /** Look at what files hold. */
  SURVEY,
  /** Pack a key, its certificate and its chain. */
  JOIN,
  /** Write in another format. */
  CONVERT,
  /** Build a truststore. */
  TRUSTSTORE,
  /** Ask an authority for a certificate. */
  REQUEST,
  /** Let both sides shake hands in memory. */
  REHEARSE,
  /** Ask a running server. */
  PROBE,
  /** Sign a new key with a certificate of its own. */
  ISSUE,
  /** Bring a file back as it was. */
  BRING_BACK,
  /** Remove for good what is kept of earlier versions. */
  FORGET_EARLIER,
  /** List earlier versions of files. */
  LIST_EARLIER,
  /** Found an authority. */
  FOUND_AUTHORITY,
  /** Sign a request. */
  SIGN,
  /** Write an authority's revocation list anew. */
  RENEW_REVOCATION_LIST,
  /** Renew what an account has obtained. */
  RENEW,
  /** Let the owner of a file alone read it: a task for the system. */
  CLOSE_FILE,
  /** Let the owner of a folder alone change it: a task for the system. */
  CLOSE_FOLDER,
  /** Do once more what was asked for, with something added. */
  AGAIN
}
