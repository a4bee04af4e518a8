// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.ArrayList;
import java.util.List;

/**
 * Settings put into a block, or into a whole file, of one of the languages with directives. What is
 * there is replaced where it stands; what is new goes behind what it belongs to, or to the end,
 * indented as its neighbours are.
 */
public final class BlockEdit {
  private final Edits edits;
  private final List<Directive> siblings;
  private final int from;
  private final int to;
  private final List<String> appended = new ArrayList<>();

  private BlockEdit(Edits edits, List<Directive> siblings, int from, int to) {
    this.edits = edits;
    this.siblings = siblings;
    this.from = from;
    this.to = to;
  }

  /**
   * {@return for the inside of a block}
   *
   * @param edits takes the changes
   * @param owner the directive with the block
   */
  public static BlockEdit in(Edits edits, Directive owner) {
    Directive.Block block = owner.block().orElseThrow();
    List<Directive> own =
        block.directives().stream().filter(one -> one.source() == edits.source()).toList();
    return new BlockEdit(edits, own, block.from(), block.to());
  }

  /**
   * Replaces a directive where it stands.
   *
   * @param old the directive
   * @param text the new one, with what ends it
   */
  public void replace(Directive old, String text) {
    edits.replace(old.from(), old.to(), text);
  }

  /**
   * Takes a directive away, with its line where nothing else stands on it.
   *
   * @param old the directive
   */
  public void remove(Directive old) {
    SourceText source = edits.source();
    int start = source.lineStart(old.from());
    int end = old.to();
    String text = source.text();
    while (end < text.length() && " \t\r".indexOf(text.charAt(end)) >= 0) {
      end++;
    }
    boolean alone =
        text.substring(start, old.from()).isBlank()
            && (end == text.length() || text.charAt(end) == '\n');
    if (alone) {
      edits.replace(start, Math.min(end + 1, text.length()), "");
    } else {
      edits.replace(old.from(), old.to(), "");
    }
  }

  /**
   * Puts a directive on a line of its own behind another one, together with what else is put there.
   *
   * @param before the directive that stands before it
   * @param text the new one
   */
  public void after(Directive before, String text) {
    SourceText source = edits.source();
    String start = source.text().substring(source.lineStart(before.from()), before.from());
    // What shares its line with what is around it goes on doing so.
    edits.insert(
        before.to(),
        start.isBlank() ? "\n" + source.indentation(before.from()) + text : " " + text);
  }

  /**
   * Puts a directive at the end of the block.
   *
   * @param text the new one
   */
  public void append(String text) {
    appended.add(text);
  }

  /** Makes changes of what was appended. */
  public void finish() {
    if (appended.isEmpty()) {
      return;
    }
    SourceText source = edits.source();
    String text = source.text();
    int start = source.lineStart(to);
    boolean ownLine = start >= from && text.substring(start, to).isBlank();
    if (!ownLine) {
      StringBuilder line = new StringBuilder();
      boolean blank = to > from && Character.isWhitespace(text.charAt(to - 1));
      appended.forEach(one -> line.append(blank ? "" : " ").append(one).append(blank ? " " : ""));
      edits.insert(to, line.append(blank ? "" : " ").toString());
      return;
    }
    String indentation =
        siblings.isEmpty()
            ? source.indentation(to) + source.step()
            : source.indentation(siblings.get(0).from());
    StringBuilder lines = new StringBuilder();
    appended.forEach(one -> lines.append(indentation).append(one).append('\n'));
    edits.insert(start, lines.toString());
  }
}
