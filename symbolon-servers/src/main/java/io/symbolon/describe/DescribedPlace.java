// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A place of a described server: a section of its settings, or all of them.
 *
 * @param section the name of the section; nothing where the whole server is one place
 * @param values what stands in that name
 */
record DescribedPlace(Optional<String> section, Map<String, String> values) {
  static final DescribedPlace WHOLE = new DescribedPlace(Optional.empty(), Map.of());

  /** A key of the description as it is looked for in the settings. */
  List<String> key(List<String> described) {
    List<String> key = new ArrayList<>();
    for (String part : described) {
      key.add(part.equals(SettingsReader.PLACE) ? section.orElse(part) : part);
    }
    return key;
  }

  /** The same as it is written where it is not there yet. */
  List<String> fresh(List<String> described) {
    return key(described).stream().map(part -> PartFiles.spellings(part).get(0)).toList();
  }
}
