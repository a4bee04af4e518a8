// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import io.symbolon.party.ProtocolVersion;
import java.util.EnumSet;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Protocol versions in the words of servers' settings: lists, with signs or without, and limits
 * such as {@code TLSv1.2 and newer}.
 */
public final class VersionWords {
  private static final Set<ProtocolVersion> ALL =
      EnumSet.range(ProtocolVersion.TLS_1_0, ProtocolVersion.TLS_1_3);

  /** A version in any spelling: TLSv1.2, TLS1_2, tls1.2, VERS-TLS1.2, 1.2; TLSv1 is 1.0. */
  private static final Pattern VERSION =
      Pattern.compile(
          "(?<sign>[-+!]?)(?:vers-)?(?<name>all|sslv?[23](?:[._]0)?|tlsv?1(?:[._]?[0-3])?"
              + "|(?<![\\w.])1\\.[0-3])(?![\\w])");

  private VersionWords() {}

  /**
   * {@return the versions that words let in; empty where they are not understood}
   *
   * @param words a list of versions; in one with signs, they add and take away
   */
  public static Set<ProtocolVersion> of(String words) {
    String text = words.toLowerCase(Locale.ROOT).strip();
    int between = text.indexOf(" to ");
    if (between > 0) {
      Set<ProtocolVersion> first = of(text.substring(0, between));
      Set<ProtocolVersion> last = of(text.substring(between + 4));
      return first.size() == 1 && last.size() == 1
          ? range(first.iterator().next(), last.iterator().next())
          : EnumSet.noneOf(ProtocolVersion.class);
    }
    boolean upwards = text.endsWith(" and newer") || text.startsWith(">=");
    Set<ProtocolVersion> on = EnumSet.noneOf(ProtocolVersion.class);
    Matcher matcher = VERSION.matcher(text);
    boolean any = false;
    while (matcher.find()) {
      String name = matcher.group("name");
      boolean away = matcher.group("sign").equals("-") || matcher.group("sign").equals("!");
      boolean plain = matcher.group("sign").isEmpty();
      if (!any && away) {
        on.addAll(ALL); // what is not named stays
      }
      any = true;
      if (name.equals("all")) {
        on.clear();
        if (!away) {
          on.addAll(ALL);
        }
      } else {
        Optional<ProtocolVersion> version = version(name);
        if (version.isPresent() && away) {
          on.remove(version.get());
        } else if (version.isPresent()) {
          on.addAll(
              upwards && plain
                  ? EnumSet.range(version.get(), ProtocolVersion.TLS_1_3)
                  : EnumSet.of(version.get()));
        }
      }
    }
    return on;
  }

  private static Set<ProtocolVersion> range(ProtocolVersion least, ProtocolVersion most) {
    return least.compareTo(most) <= 0
        ? EnumSet.range(least, most)
        : EnumSet.noneOf(ProtocolVersion.class);
  }

  /**
   * {@return the version of a word; nothing where it is none}
   *
   * @param word such as {@code TLSv1.2}, {@code tls1_2} or {@code 1.2}
   */
  public static Optional<ProtocolVersion> version(String word) {
    String digits = word.toLowerCase(Locale.ROOT).replaceFirst("^tlsv?", "").replace('_', '.');
    return switch (digits) {
      case "sslv3", "ssl3" -> Optional.of(ProtocolVersion.SSL_3_0);
      case "1", "1.0", "10" -> Optional.of(ProtocolVersion.TLS_1_0);
      case "1.1", "11" -> Optional.of(ProtocolVersion.TLS_1_1);
      case "1.2", "12" -> Optional.of(ProtocolVersion.TLS_1_2);
      case "1.3", "13" -> Optional.of(ProtocolVersion.TLS_1_3);
      default -> Optional.empty();
    };
  }
}
