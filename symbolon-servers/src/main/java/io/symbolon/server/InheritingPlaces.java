// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.lossless.SourceText;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.NotUnderstood;
import io.symbolon.server.place.TlsPlace;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.function.Function;

/**
 * Places of a described server that stand in a file of another kind, and take over from its
 * settings what they do not set themselves: what no description says. Whoever implements it is
 * found as a service.
 */
public interface InheritingPlaces {
  /** {@return the word by which its server is chosen} */
  String server();

  /**
   * {@return the places, and what of the described place is not understood because of that file}
   *
   * @param files reads a file as one of the settings; nothing if it is not there
   * @param settings the values of the server's settings, resolved
   */
  Read read(
      Machine machine,
      Installation installation,
      Function<Path, Optional<SourceText>> files,
      Function<String, Optional<String>> settings);

  /**
   * What was read.
   *
   * @param places the places beside the described one
   * @param aboutMain what of the described place is not understood
   */
  record Read(List<TlsPlace> places, List<NotUnderstood> aboutMain) {
    /** Nothing more. */
    public static final Read NOTHING = new Read(List.of(), List.of());

    /** Copies the lists. */
    public Read {
      places = List.copyOf(places);
      aboutMain = List.copyOf(aboutMain);
    }
  }

  /**
   * {@return those of a server}
   *
   * @param server the word by which it is chosen
   */
  static Optional<InheritingPlaces> of(String server) {
    return ServiceLoader.load(InheritingPlaces.class, InheritingPlaces.class.getClassLoader())
        .stream()
        .map(ServiceLoader.Provider::get)
        .filter(one -> one.server().equals(server))
        .findFirst();
  }
}
