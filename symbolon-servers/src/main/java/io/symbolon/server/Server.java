// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.failure.SymbolonException;
import io.symbolon.rehearse.ServerKind;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.Wish;
import java.nio.file.Path;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * A kind of server whose TLS settings are read and written. Whoever implements it is found as a
 * service, reads and writes no file by itself, and keeps nothing between two calls.
 */
public interface Server {
  /** {@return the word by which it is chosen, such as {@code nginx}} */
  String name();

  /** {@return its name as its makers write it} */
  String title();

  /** {@return how it judges certificates, where that is known} */
  default Optional<ServerKind> kind() {
    return ServerKind.named(name());
  }

  /** {@return the servers of this kind that are on a machine} */
  List<Installation> find(Machine machine);

  /**
   * {@return the server whose settings are at a place}
   *
   * @param home a folder, or the settings file itself
   * @throws SymbolonException if there are no such settings
   */
  Installation at(Machine machine, Path home);

  /**
   * {@return the settings as they are}
   *
   * @param installation the server
   * @throws SymbolonException if a settings file can't be read or understood
   */
  Settings read(Machine machine, Installation installation);

  /**
   * {@return what would change}
   *
   * @param installation the server
   * @param wish what is wanted
   * @throws SymbolonException if it is not clear which place is meant, or the server can't do it
   */
  Proposal propose(Machine machine, Installation installation, Wish wish);

  /**
   * {@return the server's own check of its settings, where it has one}
   *
   * @param installation the server
   */
  Optional<OwnCheck> check(Machine machine, Installation installation);

  /**
   * {@return how it takes a change}
   *
   * @param installation the server
   * @param settings whether the settings themselves change; else only files that they name
   */
  Reload reload(Machine machine, Installation installation, boolean settings);

  /** {@return whether it can take the holder of a certificate for a role of its own} */
  default boolean hasRoles() {
    return false;
  }

  /** {@return whether it keeps its settings itself, so that no file of them is edited} */
  default boolean keepsItsSettings() {
    return false;
  }

  /** {@return whether a description says how it is, and no code of its own} */
  default boolean isDescribed() {
    return false;
  }

  /** {@return what it is, in a sentence; nothing where its name says it} */
  default Optional<String> says() {
    return Optional.empty();
  }

  /**
   * {@return the forms that its files can have, such as {@code pem}, the usual one first; empty
   * where there is one alone}
   */
  default List<String> forms() {
    return List.of();
  }

  /** {@return the modes that it can be put into} */
  default Set<Mode> modes() {
    return EnumSet.of(Mode.ONE_WAY, Mode.OPTIONAL, Mode.MUTUAL);
  }
}
