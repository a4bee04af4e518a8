// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;

/** The kinds of servers that are known. */
public final class Servers {
  private Servers() {}

  /** {@return all of them, by name} */
  public static List<Server> all() {
    return ServiceLoader.load(Server.class, Servers.class.getClassLoader()).stream()
        .map(ServiceLoader.Provider::get)
        .sorted(Comparator.comparing(Server::name))
        .toList();
  }

  /**
   * {@return the one with this name}
   *
   * @param name the name
   */
  public static Optional<Server> named(String name) {
    return all().stream().filter(server -> server.name().equals(name)).findFirst();
  }
}
