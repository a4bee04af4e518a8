// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.finding.FindingKind;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What programs write when TLS fails: one list, which is data, asked from the top. What says more
 * stands in it before what says less.
 */
final class FailureWords {
  private static final String GNU_WORDS = "untrusted or revoked (0x";
  private static final Pattern GNU_STATUS =
      Pattern.compile("untrusted or revoked \\(0x([0-9a-f]+)\\)");

  private static final List<Words> ALL = read();
  private static final List<Tried> TRIED = tried();

  /** The phrases of all, and behind them what the patterns need. */
  private static final WordSearch SEARCH = search();

  /**
   * Phrases of one kind.
   *
   * @param about what else must hold
   * @param kind the kind; nothing where a line tells of no failure, whatever its words are
   */
  record Words(
      LineAbout about, Optional<FindingKind> kind, List<String> phrases, List<Pattern> patterns) {}

  /** A pattern, and the number of the words that it belongs to. */
  private record Tried(int words, Pattern pattern) {}

  /**
   * What a line is.
   *
   * @param kind what it tells of; nothing where it tells of no failure, whatever its words are
   */
  record Meaning(Optional<FindingKind> kind) {}

  private FailureWords() {}

  /** The whole list, in its order. */
  static List<Words> all() {
    return ALL;
  }

  private static List<Tried> tried() {
    List<Tried> tried = new ArrayList<>();
    for (int i = 0; i < ALL.size(); i++) {
      for (Pattern pattern : ALL.get(i).patterns()) {
        tried.add(new Tried(i, pattern));
      }
    }
    return List.copyOf(tried);
  }

  private static WordSearch search() {
    List<List<String>> groups = new ArrayList<>();
    ALL.forEach(words -> groups.add(words.phrases()));
    TRIED.forEach(one -> groups.add(NeededWords.of(one.pattern().pattern())));
    return new WordSearch(groups);
  }

  private static List<Words> read() {
    List<Words> all = new ArrayList<>();
    LineAbout about = LineAbout.ANY;
    try (InputStream in =
            Objects.requireNonNull(
                FailureWords.class.getResourceAsStream("failure-words.txt"), "the words");
        BufferedReader lines =
            new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8))) {
      for (String line = lines.readLine(); line != null; line = lines.readLine()) {
        if (line.startsWith("@")) {
          about = LineAbout.valueOf(constant(line.substring(1)));
        } else if (line.startsWith("[")) {
          String name = line.substring(1, line.length() - 1);
          all.add(
              new Words(
                  about,
                  name.equals("nothing")
                      ? Optional.empty()
                      : Optional.of(FindingKind.valueOf(constant(name))),
                  new ArrayList<>(),
                  new ArrayList<>()));
        } else if (line.startsWith("~")) {
          all.get(all.size() - 1).patterns().add(Pattern.compile(line.substring(1)));
        } else if (!line.isEmpty() && !line.startsWith("#")) {
          all.get(all.size() - 1).phrases().add(line);
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return List.copyOf(all);
  }

  private static String constant(String word) {
    return word.toUpperCase(Locale.ROOT).replace('-', '_');
  }

  /** What a line means, in lower case; nothing where no word of it is known. */
  static Optional<Meaning> in(String lower) {
    if (lower.contains(GNU_WORDS)) {
      Matcher number = GNU_STATUS.matcher(lower);
      if (number.find()) {
        return Optional.of(new Meaning(Optional.of(ofGnuStatus(number.group(1)))));
      }
    }
    BitSet there = SEARCH.groupsIn(lower);
    if (there.isEmpty()) {
      return Optional.empty();
    }
    BitSet candidates = candidates(there, lower);
    Map<LineAbout, Boolean> holds = new EnumMap<>(LineAbout.class);
    for (int at = candidates.nextSetBit(0); at >= 0; at = candidates.nextSetBit(at + 1)) {
      Words words = ALL.get(at);
      if (holds.computeIfAbsent(words.about(), about -> about.holds(lower))) {
        return Optional.of(new Meaning(words.kind()));
      }
    }
    return Optional.empty();
  }

  /** The words of which a phrase or a pattern is in the line. */
  private static BitSet candidates(BitSet there, String lower) {
    BitSet candidates = there.get(0, ALL.size());
    for (int at = there.nextSetBit(ALL.size()); at >= 0; at = there.nextSetBit(at + 1)) {
      Tried one = TRIED.get(at - ALL.size());
      if (!candidates.get(one.words()) && one.pattern().matcher(lower).find()) {
        candidates.set(one.words());
      }
    }
    return candidates;
  }

  /** The status that one library gives as a number: a bit for each reason. */
  private static FindingKind ofGnuStatus(String hex) {
    long bits = hex.length() > 8 ? 0 : Long.parseLong(hex, 16);
    if ((bits & 0x20) != 0) {
      return FindingKind.REVOKED;
    }
    if ((bits & 0x400) != 0) {
      return FindingKind.EXPIRED;
    }
    if ((bits & 0x200) != 0) {
      return FindingKind.NOT_YET_VALID;
    }
    if ((bits & 0x40000) != 0) {
      return FindingKind.WRONG_USE;
    }
    if ((bits & 0x100) != 0) {
      return FindingKind.REFUSED_BY_POLICY;
    }
    if ((bits & 0x9000) != 0) {
      return FindingKind.REVOCATION_LIST_EXPIRED;
    }
    return (bits & 0xC0) != 0 ? FindingKind.ROOT_NOT_TRUSTED : FindingKind.PEER_DOES_NOT_TRUST;
  }
}
