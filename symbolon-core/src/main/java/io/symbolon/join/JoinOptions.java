// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import java.util.Optional;

/**
 * What a join shall do.
 *
 * @param alias which of several keys is meant, and the alias it gets
 * @param root whether the root goes into the chain
 * @param incomplete what to do about a chain that does not reach a root
 * @param unchecked what to do about a chain with signatures that could not be checked
 */
public record JoinOptions(
    Optional<String> alias, Root root, Incomplete incomplete, Unchecked unchecked) {
  /** Whether the root goes into the chain. */
  public enum Root {
    /** It stays out: clients have it already, and it only makes handshakes longer. */
    LEFT_OUT,
    /** It goes in, for servers that ask for it. */
    INCLUDED
  }

  /** What to do about a chain that does not reach a root. */
  public enum Incomplete {
    /** Refuse, and name the missing issuer. */
    REFUSED,
    /** Take what is there. */
    ACCEPTED
  }

  /** What to do about a chain with signatures that the running Java could not check. */
  public enum Unchecked {
    /** Refuse: nobody knows whether the certificates belong together. */
    REFUSED,
    /** Take it, and say so. */
    ACCEPTED
  }

  /** {@return the ordinary join: any alias, no root, no incomplete chain} */
  public static JoinOptions standard() {
    return new JoinOptions(Optional.empty(), Root.LEFT_OUT, Incomplete.REFUSED, Unchecked.REFUSED);
  }

  /**
   * With a key chosen by its alias.
   *
   * @return a changed copy
   */
  public JoinOptions withAlias(String alias) {
    return new JoinOptions(Optional.of(alias), root, incomplete, unchecked);
  }

  /**
   * With another answer about the root.
   *
   * @param root what to do with the root
   * @return a changed copy
   */
  public JoinOptions with(Root root) {
    return new JoinOptions(alias, root, incomplete, unchecked);
  }

  /**
   * With another answer about an incomplete chain.
   *
   * @param incomplete what to do with an incomplete chain
   * @return a changed copy
   */
  public JoinOptions with(Incomplete incomplete) {
    return new JoinOptions(alias, root, incomplete, unchecked);
  }

  /**
   * With another answer about signatures that could not be checked.
   *
   * @param unchecked what to do with a chain that was not checked
   * @return a changed copy
   */
  public JoinOptions with(Unchecked unchecked) {
    return new JoinOptions(alias, root, incomplete, unchecked);
  }
}
