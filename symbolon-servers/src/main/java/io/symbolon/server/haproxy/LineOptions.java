// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.lossless.Edits;
import io.symbolon.lossless.Word;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The options of a line, behind what it begins with.
 *
 * @param first the index of the first word that may be an option
 * @param withValue the options with a value behind them; the others stand alone
 */
record LineOptions(HaproxyText.Line line, int first, Set<String> withValue) {
  /** The positions of an option. */
  List<Integer> places(String option) {
    List<Integer> places = new ArrayList<>();
    for (int i = first; i < line.words().size(); i++) {
      String word = line.word(i);
      if (word.equals(option)) {
        places.add(i);
      }
      i += withValue.contains(word) ? 1 : 0;
    }
    return places;
  }

  boolean has(String option) {
    return !places(option).isEmpty();
  }

  Optional<String> value(String option) {
    return places(option).stream().findFirst().map(place -> line.word(place + 1));
  }

  /**
   * Makes options those that are wanted: with a value, alone where it is empty, not there where
   * there is none.
   */
  void change(Edits edits, Map<String, Optional<String>> wanted) {
    StringBuilder added = new StringBuilder();
    wanted.forEach(
        (option, value) -> {
          List<Integer> places = places(option);
          if (value.isEmpty()) {
            places.forEach(place -> remove(edits, place, option));
          } else if (places.isEmpty()) {
            added.append(' ').append(written(option, value.get()));
          } else if (withValue.contains(option)
              && places.get(0) + 1 < line.words().size()
              && !line.word(places.get(0) + 1).equals(value.get())) {
            Word word = line.words().get(places.get(0) + 1);
            edits.replace(word.from(), word.to(), HaproxyText.written(value.get()));
          }
        });
    if (!added.isEmpty()) {
      edits.insert(line.words().get(line.words().size() - 1).to(), added.toString());
    }
  }

  private void remove(Edits edits, int place, String option) {
    List<Word> words = line.words();
    int last = Math.min(words.size() - 1, place + (withValue.contains(option) ? 1 : 0));
    edits.replace(words.get(place - 1).to(), words.get(last).to(), "");
  }

  static String written(String option, String value) {
    return value.isEmpty() ? option : option + " " + HaproxyText.written(value);
  }
}
