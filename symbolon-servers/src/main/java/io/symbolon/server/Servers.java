// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.stream.Stream;

/** The kinds of servers that are known. */
public final class Servers {
  private Servers() {}

  /** {@return all of them, by name} */
  public static List<Server> all() {
    ClassLoader loader = Servers.class.getClassLoader();
    Stream<Server> programmed =
        ServiceLoader.load(Server.class, loader).stream().map(ServiceLoader.Provider::get);
    Stream<Server> others =
        ServiceLoader.load(MoreServers.class, loader).stream()
            .flatMap(source -> source.get().servers().stream());
    return Stream.concat(programmed, others).sorted(Comparator.comparing(Server::name)).toList();
  }

  /** {@return the one with this name} */
  public static Optional<Server> named(String name) {
    return all().stream().filter(server -> server.name().equals(name)).findFirst();
  }
}
