// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.failure.SymbolonException;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import java.util.List;

/**
 * A kind of program that opens connections, whose TLS settings are written. Whoever implements it
 * is found as a service, writes no file by itself, and keeps nothing between two calls.
 */
public interface ClientKind {
  /** {@return the word by which it is chosen, such as {@code libpq}} */
  String name();

  /** {@return what it is called} */
  String title();

  /**
   * {@return the forms that its files can have, such as {@code pem}, the usual one first; empty
   * where there is one alone}
   */
  default List<String> forms() {
    return List.of();
  }

  /**
   * {@return what would change}
   *
   * @param wish what is wanted
   * @param surveyor reads files of keys and certificates
   * @throws SymbolonException if it is not clear what is meant, or the program can't do it
   */
  ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor);
}
