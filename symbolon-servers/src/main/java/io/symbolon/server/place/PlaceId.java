// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import java.nio.file.Path;

/**
 * What a place is known by: the file and the position where it stands, or a part of its own where
 * there is one such place. Its name is only shown; two places may have the same.
 *
 * @param file the settings file
 * @param part which part of the server it is, where it has no position of its own; else empty
 * @param position where it begins in the file; the places of a file stand in this order
 */
public record PlaceId(Path file, String part, int position) {
  /**
   * {@return the place that begins somewhere in a file}
   *
   * @param file the settings file
   * @param position where it begins
   */
  public static PlaceId at(Path file, int position) {
    return new PlaceId(file, "", position);
  }

  /**
   * {@return a place that there is once, wherever its settings stand}
   *
   * @param file the main settings file
   * @param part which part of the server it is
   */
  public static PlaceId only(Path file, String part) {
    return new PlaceId(file, part, 0);
  }
}
