// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class WordSearchTest {
  private final Random random = new Random(20_261_201);

  /** A text of few letters, so that words begin, end and lie within each other. */
  private String text(int length) {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < length; i++) {
      text.append("ab\u00E9c".charAt(random.nextInt(4)));
    }
    return text.toString();
  }

  @Test
  void findsWhatLookingForEachWordFinds() {
    for (int round = 0; round < 2_000; round++) {
      List<List<String>> groups = new ArrayList<>();
      for (int group = random.nextInt(8); group >= 0; group--) {
        List<String> words = new ArrayList<>();
        for (int word = random.nextInt(5); word > 0; word--) {
          words.add(text(1 + random.nextInt(5)).replace('\u00E9', 'd'));
        }
        groups.add(words);
      }
      String text = text(random.nextInt(20));
      BitSet expected = new BitSet();
      for (int group = 0; group < groups.size(); group++) {
        expected.set(group, groups.get(group).stream().anyMatch(text::contains));
      }
      assertEquals(expected, new WordSearch(groups).groupsIn(text), groups + " in " + text);
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "no certificates? (were )?(found|read);no certificate",
        "\\(10[34]: .{0,9}while tls;while tls",
        "(eof|reset by peer).{0,9}(ssl|tls);eof,reset by peer",
        "^(?!.*(password)).*ui routines::;ui routines::",
        "\\b24\\b.{0,6}invalid ca;invalid ca",
      })
  void knowsWhatAPatternNeeds(String pattern, String words) {
    assertEquals(List.of(words.split(",")), NeededWords.of(pattern));
  }

  @Test
  void aPatternThatNeedsNoWordIsRefused() {
    assertThrows(IllegalArgumentException.class, () -> NeededWords.of("(a|b)?\\d+.*"));
    assertThrows(IllegalArgumentException.class, () -> NeededWords.of("this|that"));
  }
}
