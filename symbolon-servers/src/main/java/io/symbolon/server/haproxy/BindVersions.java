// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.party.ProtocolVersion;
import io.symbolon.server.place.VersionWords;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** The protocol versions that words of a bind line, or of the global section, let in. */
final class BindVersions {
  /** Words that take a version away, or leave one alone. */
  static final List<String> FLAGS =
      List.of(
          "no-sslv3",
          "no-tlsv10",
          "no-tlsv11",
          "no-tlsv12",
          "no-tlsv13",
          "force-sslv3",
          "force-tlsv10",
          "force-tlsv11",
          "force-tlsv12",
          "force-tlsv13");

  private static final Pattern AND_NEWER = Pattern.compile("(\\S+) and newer$");

  private BindVersions() {}

  /**
   * The versions of words such as {@code ssl-min-ver TLSv1.2 no-tlsv13}, of which the later ones
   * count more; none where nothing is said.
   */
  static Set<ProtocolVersion> of(String said) {
    String words = AND_NEWER.matcher(said.strip()).replaceFirst("ssl-min-ver $1");
    if (words.isBlank()) {
      return EnumSet.noneOf(ProtocolVersion.class);
    }
    ProtocolVersion least = ProtocolVersion.TLS_1_2; // since 2.2, where nothing is said
    ProtocolVersion most = ProtocolVersion.TLS_1_3;
    boolean limited = false; // then words that take one away do not count
    Set<ProtocolVersion> away = EnumSet.noneOf(ProtocolVersion.class);
    List<String> all = List.of(words.strip().split("\\s+", -1));
    for (int i = 0; i < all.size(); i++) {
      String word = all.get(i);
      Optional<ProtocolVersion> next =
          i + 1 < all.size() ? VersionWords.version(all.get(i + 1)) : Optional.empty();
      if (word.equals("ssl-min-ver")) {
        least = next.orElse(least);
        limited = true;
      } else if (word.equals("ssl-max-ver")) {
        most = next.orElse(most);
        limited = true;
      } else if (word.startsWith("no-tlsv") || word.equals("no-sslv3")) {
        VersionWords.version(word.substring(3)).ifPresent(away::add);
      } else if (word.startsWith("force-")) {
        Optional<ProtocolVersion> one = VersionWords.version(word.substring(6));
        least = one.orElse(least);
        most = one.orElse(most);
        limited = true;
      }
    }
    Set<ProtocolVersion> on =
        least.compareTo(most) <= 0
            ? EnumSet.range(least, most)
            : EnumSet.noneOf(ProtocolVersion.class);
    if (!limited) {
      on.removeAll(away);
    }
    return on;
  }
}
