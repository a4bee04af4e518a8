// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.acme.protocol.Identifier;
import io.symbolon.failure.SymbolonException;

/** A way to prove that a name is under one's control. */
public interface Proof {
  /** {@return the type of the challenge that it meets, such as {@code http-01}} */
  String type();

  /** {@return what it is called to people} */
  String title();

  /**
   * {@return whether it can prove a name}
   *
   * @param name the name, without the {@code *.} of a wildcard
   * @param wildcard whether all hosts of that domain are meant
   */
  boolean suits(Identifier name, boolean wildcard);

  /**
   * Shows what an authority wants to see, and returns when it can be seen.
   *
   * @param task what is to be shown
   * @return what takes it away again
   * @throws SymbolonException if it can't be shown; then nothing of it is left
   */
  Shown show(Task task);

  /**
   * What is to be shown.
   *
   * @param name the name, without the {@code *.} of a wildcard
   * @param token the token of the challenge
   * @param authorization the token with the thumbprint of the account's key (RFC 8555, 8.1)
   */
  record Task(Identifier name, String token, String authorization) {}

  /** Something that is shown until it is closed. */
  interface Shown extends AutoCloseable {
    @Override
    void close();
  }
}
