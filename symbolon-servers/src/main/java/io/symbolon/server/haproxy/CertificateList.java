// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * A list of certificates ({@code crt-list}): on each line a file, settings of its own in brackets,
 * and the names for which it is shown. The first file is shown where no name fits.
 */
final class CertificateList {
  private static final Pattern ENTRY = Pattern.compile("([^\\s\\[]+)\\s*(?:\\[([^\\]]*)\\])?(.*)");

  /** Options with their values, which a list may separate by commas. */
  private static final Pattern HARMLESS =
      Pattern.compile("alpn|npn|allow-0rtt|no-ca-names|h2(,.*)?|http/.*");

  /**
   * One line.
   *
   * @param number of the line, from 1
   * @param file as it is written
   * @param settings of its own, as they are written; empty for none
   * @param names for which it is shown; none for those in the certificate
   */
  record Entry(int number, String file, String settings, List<String> names) {
    /** Whether its own settings change neither who is let in nor which versions are spoken. */
    boolean isHarmless() {
      return Stream.of(settings.split("\\s+", -1))
          .allMatch(word -> word.isEmpty() || HARMLESS.matcher(word).matches());
    }
  }

  private CertificateList() {}

  static List<Entry> of(String text) {
    List<Entry> entries = new ArrayList<>();
    int number = 0;
    for (String line : text.lines().toList()) {
      number++;
      Matcher entry = ENTRY.matcher(line.strip());
      if (!line.strip().startsWith("#") && entry.matches()) {
        String settings = entry.group(2) == null ? "" : entry.group(2).strip();
        List<String> names =
            Stream.of(entry.group(3).split("\\s+", -1)).filter(name -> !name.isEmpty()).toList();
        entries.add(new Entry(number, entry.group(1), settings, names));
      }
    }
    return entries;
  }
}
