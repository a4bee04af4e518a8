// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import java.util.List;

/**
 * What servers of a kind do where something is so that Java judges in another way. The rules are
 * data: {@code server-rules.txt}.
 *
 * @param circumstance what is so
 * @param behaviour what the server does
 * @param servers which servers
 */
record ServerRule(Circumstance circumstance, Behaviour behaviour, List<ServerKind> servers) {
  /** What can be so. */
  enum Circumstance {
    /** The certificate file begins with a certificate whose key is of another kind. */
    CHAIN_FIRST_OTHER_KEY("the certificate file does not begin with the server's certificate"),
    /** The certificate file begins with a certificate whose key is of the same kind. */
    CHAIN_FIRST_SAME_KEY("the certificate file does not begin with the server's certificate"),
    /** The key lies in a file under a password. */
    SEALED_KEY("the key lies under a password"),
    /** The key lies in a keystore under another password than the keystore's. */
    OWN_KEY_PASSWORD("the key has another password than its keystore"),
    /** In the certificate file, a block begins on the line where another ends. */
    GLUED_CHAIN("blocks of the certificate file are glued together on one line"),
    /** The same in the file of the trust. */
    GLUED_TRUST("blocks of the trust are glued together on one line"),
    /** Of an authority in the client's chain, no revocation list is among those given. */
    LISTS_INCOMPLETE("the revocation list of an authority is missing"),
    /** The same, for authorities above one that is trusted itself: some look no further than it. */
    LISTS_INCOMPLETE_ABOVE_TRUST(
        "the revocation list of an authority above a trusted one is missing"),
    /** A revocation list may no longer be relied on. */
    LIST_ENDED("a revocation list is out of date"),
    /** The client's certificate is on a list. */
    REVOKED("the client's certificate is revoked"),
    /** The client's certificate is for servers only, or for something else. */
    CLIENT_WRONG_USE("the client's certificate is not for clients"),
    /** The server's file lacks an intermediate that is among the certificates it trusts. */
    CHAIN_INCOMPLETE("the server's certificate file lacks the intermediate"),
    /** The trust holds an intermediate, and not the root above it. */
    TRUST_WITHOUT_ROOT("the trust lacks the root"),
    /** One intermediate stands between the client's certificate and the root. */
    BELOW_ONE_INTERMEDIATE("the client's certificate is below an intermediate"),
    /** Several intermediates stand between the client's certificate and the root. */
    BELOW_SEVERAL_INTERMEDIATES("the client's certificate is below several intermediates");

    private final String because;

    Circumstance(String because) {
      this.because = because;
    }

    /** Whether all servers that no rule names accept; otherwise nothing is known of them. */
    boolean passesWithOthers() {
      return this == BELOW_ONE_INTERMEDIATE || this == BELOW_SEVERAL_INTERMEDIATES;
    }

    /** What is so, as the end of a sentence that begins with the server. */
    String because() {
      return because;
    }
  }

  /** What a server does, the harmless first. */
  enum Behaviour {
    ACCEPTS,
    COMPLETES_CHAIN,
    WANTS_SETTING,
    REFUSES,
    REFUSED_BY_CLIENTS,
    REFUSES_EVERYBODY,
    FAILS_EVERYBODY,
    SERVES_NO_TLS,
    DOES_NOT_START;

    /** Whether the client is served in the end. */
    boolean serves() {
      return this == ACCEPTS || this == COMPLETES_CHAIN;
    }
  }
}
