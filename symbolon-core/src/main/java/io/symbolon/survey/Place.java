// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.text.VisibleText;
import java.nio.file.Path;

/**
 * Where a holding was found.
 *
 * @param file the file, as it was given
 * @param position where in it, such as {@code line 12} or {@code entry 'ingest'}; empty where the
 *     file holds nothing else
 */
public record Place(Path file, String position) {
  @Override
  public String toString() {
    String name = VisibleText.of(file.toString());
    return position.isEmpty() ? name : name + " " + position;
  }
}
