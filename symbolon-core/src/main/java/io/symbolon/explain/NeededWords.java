// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * The words without which a pattern can't match: any one of them must be in the text. They are
 * looked for first, so that the pattern itself, which costs more, is tried on few lines.
 */
final class NeededWords {
  private static final String SPECIAL = ".[](){}|^$?*+\\";

  private final String pattern;
  private final List<List<String>> choices = new ArrayList<>();
  private final StringBuilder run = new StringBuilder();
  private int at;

  private NeededWords(String pattern) {
    this.pattern = pattern;
  }

  /**
   * {@return the words of a pattern of which a text must have one}
   *
   * @param pattern a regular expression; what is in its nested groups is not looked at
   * @throws IllegalArgumentException if there are none
   */
  static List<String> of(String pattern) {
    NeededWords needed = new NeededWords(pattern);
    needed.read();
    return needed.choices.stream()
        .max(Comparator.comparingInt(NeededWords::shortest))
        .filter(words -> shortest(words) > 1)
        .orElseThrow(
            () -> new IllegalArgumentException("no word is needed for the pattern " + pattern));
  }

  private static int shortest(List<String> words) {
    return words.stream().mapToInt(String::length).min().orElse(0);
  }

  private void read() {
    while (at < pattern.length()) {
      char c = pattern.charAt(at);
      if (c == '|') {
        throw new IllegalArgumentException("alternatives without brackets: " + pattern);
      } else if (c == '(') {
        group();
      } else if (c == '[') {
        end();
        at = pattern.indexOf(']', at + 2) + 1;
        quantifier();
      } else if (c == '\\' && Character.isLetterOrDigit(pattern.charAt(at + 1))) {
        end();
        at += 2;
        quantifier();
      } else if (c == '\\' || SPECIAL.indexOf(c) < 0) {
        at += c == '\\' ? 2 : 1;
        run.append(pattern.charAt(at - 1));
        if (quantifier()) {
          run.setLength(run.length() - 1);
          end();
        }
      } else {
        end();
        at++;
        quantifier();
      }
    }
    end();
  }

  /** A group of plain words is a choice of its own, where it must be there. */
  private void group() {
    end();
    int from = at + 1;
    int depth = 0;
    do {
      char c = pattern.charAt(at);
      depth += c == '(' ? 1 : c == ')' ? -1 : 0;
      at += c == '\\' ? 2 : 1;
    } while (depth > 0);
    String inner = pattern.substring(from, at - 1);
    if (!quantifier() && inner.chars().allMatch(c -> c == '|' || SPECIAL.indexOf(c) < 0)) {
      choices.add(List.of(inner.split("\\|", -1)));
    }
  }

  /** Goes past how often something may be there. */
  private boolean quantifier() {
    if (at >= pattern.length() || "?*+{".indexOf(pattern.charAt(at)) < 0) {
      return false;
    }
    at = pattern.charAt(at) == '{' ? pattern.indexOf('}', at) + 1 : at + 1;
    return true;
  }

  private void end() {
    if (run.length() > 0) {
      choices.add(List.of(run.toString()));
      run.setLength(0);
    }
  }
}
