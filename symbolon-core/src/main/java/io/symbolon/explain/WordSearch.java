// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.Deque;
import java.util.List;

/**
 * Tells which groups of words a text has any word of. The text is gone through once, however many
 * words there are: each of its characters is one step from one state to the next, where a state is
 * the longest beginning of any word that the text ends with so far.
 */
final class WordSearch {
  private static final int NONE = -1;
  private static final BitSet NOTHING = new BitSet(0);

  private final int[] letters = new int[128]; // a character's column; 0 for one in no word
  private final int columns;
  private final int[] next; // state and column give the state behind it
  private final int[][] ends; // the groups whose words end in a state; null where none does

  /**
   * @param groups the words of each group, none of them empty, and of ASCII characters alone
   */
  WordSearch(List<? extends Collection<String>> groups) {
    int count = 1;
    int states = 1;
    for (Collection<String> words : groups) {
      for (String word : words) {
        if (word.isEmpty() || word.chars().anyMatch(c -> c >= letters.length)) {
          throw new IllegalArgumentException("not a word to look for: " + word);
        }
        for (int i = 0; i < word.length(); i++) {
          if (letters[word.charAt(i)] == 0) {
            letters[word.charAt(i)] = count++;
          }
        }
        states += word.length();
      }
    }
    columns = count;
    int[] tree = new int[states * columns];
    Arrays.fill(tree, NONE);
    List<List<Integer>> found = new ArrayList<>();
    found.add(new ArrayList<>());
    for (int group = 0; group < groups.size(); group++) {
      for (String word : groups.get(group)) {
        int state = 0;
        for (int i = 0; i < word.length(); i++) {
          int at = state * columns + letters[word.charAt(i)];
          if (tree[at] == NONE) {
            tree[at] = found.size();
            found.add(new ArrayList<>());
          }
          state = tree[at];
        }
        found.get(state).add(group);
      }
    }
    next = Arrays.copyOf(tree, found.size() * columns);
    join(found);
    ends = new int[found.size()][];
    for (int state = 0; state < ends.length; state++) {
      int[] groupsThere =
          found.get(state).stream().mapToInt(Integer::intValue).distinct().toArray();
      ends[state] = groupsThere.length == 0 ? null : groupsThere;
    }
  }

  /** Where a word does not go on, the longest of its ends goes on that begins another one. */
  private void join(List<List<Integer>> found) {
    int[] shorter = new int[found.size()];
    Deque<Integer> open = new ArrayDeque<>();
    for (int column = 0; column < columns; column++) {
      if (next[column] == NONE) {
        next[column] = 0;
      } else {
        open.add(next[column]);
      }
    }
    while (!open.isEmpty()) {
      int state = open.remove();
      found.get(state).addAll(found.get(shorter[state]));
      for (int column = 0; column < columns; column++) {
        int at = state * columns + column;
        int instead = next[shorter[state] * columns + column];
        if (next[at] == NONE) {
          next[at] = instead;
        } else {
          shorter[next[at]] = instead;
          open.add(next[at]);
        }
      }
    }
  }

  /** {@return the numbers of the groups that a text has a word of; not to be changed} */
  BitSet groupsIn(String text) {
    BitSet groups = NOTHING;
    int state = 0;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      state = c < letters.length ? next[state * columns + letters[c]] : 0;
      int[] there = ends[state];
      if (there != null) {
        if (groups.isEmpty()) {
          groups = new BitSet();
        }
        for (int group : there) {
          groups.set(group);
        }
      }
    }
    return groups;
  }

  /** {@return the number of the first group that a text has a word of; -1 if it has none} */
  int first(String text) {
    return groupsIn(text).nextSetBit(0);
  }
}
