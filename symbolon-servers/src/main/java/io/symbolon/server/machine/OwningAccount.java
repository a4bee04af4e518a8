// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.file.PathControl;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/**
 * The account whose a server's folder is. The owner that the folder shows is not enough: whoever
 * controls the way to it, by a folder or a link, could put one of another owner in its place.
 */
public final class OwningAccount {
  private OwningAccount() {}

  /**
   * {@return the account that controls a folder or file: that which controls a part of the way,
   * else its owner; nothing where several accounts, a group or everybody do, or where nobody can
   * tell}
   *
   * @param path the folder or file
   */
  public static Optional<String> of(Path path) {
    try {
      PathControl control = PathControl.of(path);
      Optional<PathControl.Stranger> stranger = control.stranger();
      if (stranger.isEmpty()) {
        return Optional.of(Files.getOwner(control.real()).getName());
      }
      return stranger
          .flatMap(PathControl.Stranger::account)
          .filter(account -> isAlone(path, account));
    } catch (IOException | UnsupportedOperationException e) {
      return Optional.empty();
    }
  }

  private static boolean isAlone(Path path, String account) {
    try {
      return PathControl.of(path, account).stranger().isEmpty();
    } catch (IOException e) {
      return false;
    }
  }
}
