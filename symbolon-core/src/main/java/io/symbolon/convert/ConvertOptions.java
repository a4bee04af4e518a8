// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What of a content is written, and under which names.
 *
 * @param parts which parts; {@link ContentPart#EVERYTHING} where nothing is chosen
 * @param aliases the names of the entries that are taken; empty for all
 * @param leftOut the names of the entries that are not taken
 * @param renames new aliases by old ones
 * @param withRoot whether the root is a part of the chain
 */
public record ConvertOptions(
    Set<ContentPart> parts,
    List<String> aliases,
    List<String> leftOut,
    Map<String, String> renames,
    boolean withRoot) {
  /** Copies the collections. */
  public ConvertOptions {
    parts = parts.isEmpty() ? Set.of(ContentPart.EVERYTHING) : Set.copyOf(parts);
    aliases = List.copyOf(aliases);
    leftOut = List.copyOf(leftOut);
    renames = Map.copyOf(renames);
  }

  /** {@return everything, as it is} */
  public static ConvertOptions everything() {
    return new ConvertOptions(
        Set.of(ContentPart.EVERYTHING), List.of(), List.of(), Map.of(), false);
  }

  /** {@return these parts} */
  public static ConvertOptions of(ContentPart... parts) {
    return new ConvertOptions(Set.of(parts), List.of(), List.of(), Map.of(), false);
  }

  /**
   * With these entries alone.
   *
   * @return a changed copy
   */
  public ConvertOptions withAliases(List<String> aliases) {
    return new ConvertOptions(parts, aliases, leftOut, renames, withRoot);
  }

  /**
   * Without these entries.
   *
   * @param leftOut the aliases
   * @return a changed copy
   */
  public ConvertOptions without(List<String> leftOut) {
    return new ConvertOptions(parts, aliases, leftOut, renames, withRoot);
  }

  /**
   * With new aliases.
   *
   * @param renames new aliases by old ones
   * @return a changed copy
   */
  public ConvertOptions withRenames(Map<String, String> renames) {
    return new ConvertOptions(parts, aliases, leftOut, renames, withRoot);
  }

  boolean wants(ContentPart part) {
    return parts.contains(part) || parts.contains(ContentPart.EVERYTHING);
  }

  /** {@return whether a private key is among what is wanted} */
  public boolean wantsKeys() {
    return wants(ContentPart.KEY);
  }
}
