// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import java.nio.file.Path;

/**
 * A file in which a new strong password is saved, for its owner alone.
 *
 * @param name the file, or a folder where each of many results gets a password of its own
 */
public record NewPasswordFile(String name) implements SealSource {
  /** {@return the file} */
  public Path path() {
    return Path.of(name);
  }

  /** {@return how the password is called where it is spoken of} */
  public String text() {
    return "new=" + name;
  }
}
