// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.failure.SymbolonException;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientRole;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;

/**
 * How a described server takes the holders of certificates for roles of its own: what no
 * description says, since the roles are in the server and not in its files. Whoever implements it
 * is found as a service.
 */
public interface ServerRoles {
  /** {@return the word by which its server is chosen} */
  String server();

  /**
   * {@return what the server is to be told; nothing for what is so already}
   *
   * @param installation the server
   * @throws SymbolonException if the server does not answer, has no such role, or can't know a
   *     certificate by its subject
   */
  List<Proposal.Step> propose(Machine machine, Installation installation, List<ClientRole> roles);

  /**
   * {@return the roles of a server}
   *
   * @param server the word by which it is chosen
   */
  static Optional<ServerRoles> of(String server) {
    return ServiceLoader.load(ServerRoles.class, ServerRoles.class.getClassLoader()).stream()
        .map(ServiceLoader.Provider::get)
        .filter(one -> one.server().equals(server))
        .findFirst();
  }
}
