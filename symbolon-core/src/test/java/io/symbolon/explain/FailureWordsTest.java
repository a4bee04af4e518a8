// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** The list of what programs write: each phrase of it can be found, and each kind has a meaning. */
class FailureWordsTest {
  private record Phrase(FailureWords.Words words, String text) {
    /** Whether this one, which is asked first, takes every line that the other one has. */
    boolean hides(Phrase later) {
      return later.text.contains(text)
          && (words.about() == LineAbout.ANY || words.about() == later.words.about())
          && !words.kind().equals(later.words.kind());
    }
  }

  private static List<Phrase> phrases() {
    return FailureWords.all().stream()
        .flatMap(words -> words.phrases().stream().map(text -> new Phrase(words, text)))
        .toList();
  }

  @Test
  void noPhraseHidesALaterOneThatMeansSomethingElse() {
    List<Phrase> all = phrases();
    assertTrue(all.size() > 1_000, all.size() + " phrases");
    List<String> hidden = new ArrayList<>();
    for (int later = 0; later < all.size(); later++) {
      for (Phrase first : all.subList(0, later)) {
        if (first.hides(all.get(later))) {
          hidden.add(first.text + " hides " + all.get(later).text);
        }
      }
    }
    assertEquals(List.of(), hidden);
  }

  @Test
  void noPhraseStandsTwiceForTheSameLines() {
    List<String> texts =
        phrases().stream().map(one -> one.words().about() + " " + one.text()).toList();
    assertEquals(texts.stream().distinct().toList(), texts);
    phrases()
        .forEach(one -> assertEquals(one.text().toLowerCase(java.util.Locale.ROOT), one.text()));
  }

  @Test
  void everyKindHasAMeaning() {
    assertEquals(
        List.of(),
        FailureWords.all().stream()
            .flatMap(words -> words.kind().stream())
            .filter(kind -> KnownFailure.ofKind(kind).isEmpty())
            .toList());
  }

  @Test
  void aPhraseCountsOnlyWhereTheLineIsAboutIt() {
    assertEquals(Optional.empty(), FailureWords.in("open /srv/readings.csv: permission denied"));
    assertTrue(FailureWords.in("open /srv/web.key: permission denied").isPresent());
  }
}
