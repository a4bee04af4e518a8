// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import java.nio.file.Path;
import java.util.Optional;

/**
 * The place that a proposal is about: one that there is, or one that it makes.
 *
 * @param name the name that the place will have
 * @param id what it is known by in the settings as they are; nothing where it is made
 * @param file the settings file that it will stand in, where that is known
 */
public record ProposedPlace(String name, Optional<PlaceId> id, Optional<Path> file) {
  /** {@return a place that there is} */
  public static ProposedPlace of(TlsPlace place) {
    return new ProposedPlace(place.name(), Optional.of(place.id()), Optional.empty());
  }

  /**
   * {@return a place that is made}
   *
   * @param name the name that it will have
   * @param file the settings file that it will stand in
   */
  public static ProposedPlace made(String name, Path file) {
    return new ProposedPlace(name, Optional.empty(), Optional.of(file));
  }
}
