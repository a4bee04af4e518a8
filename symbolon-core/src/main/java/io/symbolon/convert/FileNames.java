// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import java.nio.file.Path;
import java.text.Normalizer;
import java.util.HashSet;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Names of files that are predictable and safe on any system: lower-case ASCII letters, digits,
 * dots and hyphens, never more than one of a name, nothing that a path or a device could be made
 * of.
 */
public final class FileNames {
  private static final int LONGEST = 60;
  private static final Set<String> DEVICES = Set.of("con", "prn", "aux", "nul");

  private static final Pattern CALLED =
      Pattern.compile("([a-z0-9.-]{1,64}?)-(?:key|certificate)(-[0-9]+)?\\.(?:pem|der)");

  private final String ending;
  private final Set<String> taken = new HashSet<>();

  /** Names with this ending, its dot included. */
  FileNames(String ending) {
    this.ending = ending;
  }

  /** The name for an object: what it is called, what it is, and a number where that is taken. */
  String next(String name, String kind) {
    String base = safe(name);
    String stem = base.isEmpty() ? kind : base + "-" + kind;
    String candidate = stem + ending;
    for (int number = 2; !taken.add(candidate); number++) {
      candidate = stem + "-" + number + ending;
    }
    return candidate;
  }

  /**
   * {@return the name of the object in a file that is called as {@link #next} calls it}
   *
   * @param file the file, which holds nothing else
   */
  static Optional<String> objectIn(Path file) {
    Matcher called = CALLED.matcher(String.valueOf(file.getFileName()));
    return called.matches()
        ? Optional.of(called.group(1) + (called.group(2) == null ? "" : called.group(2)))
        : Optional.empty();
  }

  /** {@return a name made of nothing but what is safe in a file name; may be empty} */
  public static String safe(String name) {
    String plain =
        Normalizer.normalize(name, Normalizer.Form.NFKD)
            .replaceAll("\\p{M}+", "")
            .toLowerCase(Locale.ROOT)
            .replace("*", "wildcard")
            .replaceAll("[^a-z0-9.]+", "-")
            .replaceAll("\\.{2,}", ".")
            .replaceAll("^[.-]+|[.-]+$", "");
    String cut =
        plain.length() <= LONGEST ? plain : plain.substring(0, LONGEST).replaceAll("[.-]+$", "");
    String first = cut.contains(".") ? cut.substring(0, cut.indexOf('.')) : cut;
    boolean device = DEVICES.contains(first) || first.matches("(com|lpt)[0-9]");
    return device ? "entry-" + cut : cut;
  }
}
