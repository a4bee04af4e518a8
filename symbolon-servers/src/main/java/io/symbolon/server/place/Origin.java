// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import io.symbolon.text.VisibleText;
import java.nio.file.Path;

/**
 * Where a setting stands.
 *
 * @param file the settings file
 * @param line the number of the line, from 1
 */
public record Origin(Path file, int line) {
  /** {@return it as it is shown: the file, and the line behind a colon} */
  @Override
  public String toString() {
    return VisibleText.of(file.toString()) + ":" + line;
  }
}
