// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.server.Installation;
import io.symbolon.server.machine.Machine;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Where a description may let something be written: in the home that was found or named, and in the
 * folders that it says besides. A link that leads out of these leads nowhere.
 */
final class Inside {
  private final List<Path> allowed = new ArrayList<>();
  private final Path home;

  Inside(Description description, Machine machine, Installation installation) {
    home = installation.home();
    allowed.add(real(home));
    for (String folder : description.where().within()) {
      allowed.add(real(machine.path(folder)));
    }
  }

  /**
   * Refuses what would be written elsewhere.
   *
   * @param path what is to be written
   */
  void check(Path path) {
    Path real = real(path);
    if (allowed.stream().noneMatch(real::startsWith)) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was changed.",
          "The description would write "
              + VisibleText.of(path.toString())
              + (real.equals(path.toAbsolutePath().normalize())
                  ? ""
                  : ", which is " + VisibleText.of(real.toString()) + " by a link")
              + ". That is not in the server's home "
              + VisibleText.of(home.toString())
              + ".",
          "If it is meant, name its folder in the description: within, below where.");
    }
  }

  /** What a path is behind all links; of what is not there yet, as far as it is there. */
  private static Path real(Path path) {
    Path absolute = path.toAbsolutePath().normalize();
    Path there = absolute;
    while (there != null && !Files.exists(there, LinkOption.NOFOLLOW_LINKS)) {
      there = there.getParent();
    }
    if (there == null) {
      return absolute;
    }
    try {
      return there.toRealPath().resolve(there.relativize(absolute)).normalize();
    } catch (IOException e) {
      return absolute.getRoot() == null ? absolute : absolute.getRoot(); // a link to nowhere
    }
  }
}
