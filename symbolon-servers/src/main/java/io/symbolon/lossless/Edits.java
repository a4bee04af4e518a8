// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.OptionalInt;

/**
 * Changes at positions of a text. All positions are those of the text before any change. Nothing
 * else of the text is touched. Not for several threads.
 */
public final class Edits {
  private final SourceText source;
  private final List<Edit> edits = new ArrayList<>();

  private record Edit(int from, int to, String text) {}

  /**
   * No changes yet.
   *
   * @param source the text that they are for
   */
  public Edits(SourceText source) {
    this.source = source;
  }

  /** {@return the text that they are for} */
  public SourceText source() {
    return source;
  }

  /** {@return whether the text stays as it is} */
  public boolean isEmpty() {
    return edits.stream()
        .allMatch(
            edit -> edit.text().contentEquals(source.text().substring(edit.from(), edit.to())));
  }

  /**
   * Puts other text in the place of a part.
   *
   * @param from where the part begins
   * @param to where it ends, exclusive
   * @param text the new text; its line ends become those of the file
   */
  public void replace(int from, int to, String text) {
    if (from < 0 || to < from || to > source.text().length()) {
      throw new IllegalArgumentException(from + " to " + to + " is no part of the text");
    }
    for (Edit other : edits) {
      if (from < other.to() && other.from() < to) {
        throw new IllegalArgumentException("two changes of one part of the text");
      }
    }
    edits.add(new Edit(from, to, text.replace("\r\n", "\n").replace("\n", source.lineEnd())));
  }

  /**
   * Puts text in.
   *
   * @param at before which position
   * @param text the text; its line ends become those of the file
   */
  public void insert(int at, String text) {
    replace(at, at, text);
  }

  /**
   * {@return where the text goes on that stays, from a position on; nothing where text is put in
   * there}
   *
   * @param at the position
   */
  OptionalInt goesOn(int at) {
    int end = at;
    boolean further = true;
    while (further) {
      further = false;
      for (Edit edit : edits) {
        if (edit.from() == end && !edit.text().isEmpty()) {
          return OptionalInt.empty();
        }
        if (edit.from() == end && edit.to() > end) {
          end = edit.to();
          further = true;
        }
      }
    }
    return OptionalInt.of(end);
  }

  /** {@return the text with all changes; what was put in at one place stands in the order given} */
  public String apply() {
    List<Edit> sorted = new ArrayList<>(edits);
    // What is put in stands before what replaces the text behind it.
    sorted.sort(Comparator.comparingInt(Edit::from).thenComparingInt(Edit::to));
    StringBuilder result = new StringBuilder();
    int at = 0;
    for (Edit edit : sorted) {
      result.append(source.text(), at, edit.from()).append(edit.text());
      at = edit.to();
    }
    return result.append(source.text(), at, source.text().length()).toString();
  }

  /** {@return the octets of the file with all changes} */
  public byte[] octets() {
    return source.encode(apply());
  }
}
