// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;

/** The kinds of programs that open connections. */
public final class ClientKinds {
  private ClientKinds() {}

  /** {@return all of them, by name} */
  public static List<ClientKind> all() {
    return ServiceLoader.load(ClientKind.class, ClientKinds.class.getClassLoader()).stream()
        .map(ServiceLoader.Provider::get)
        .sorted(Comparator.comparing(ClientKind::name))
        .toList();
  }

  /** {@return the one with this name} */
  public static Optional<ClientKind> named(String name) {
    return all().stream().filter(kind -> kind.name().equals(name)).findFirst();
  }
}
