// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.text;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.lossless.BlockEdit;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.SourceText;
import io.symbolon.text.VisibleText;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;

/**
 * Settings that are to stand exactly so in one block: replaced where they are, new at its end where
 * they are not, and untouched where they say the same already. Not for several threads.
 */
public final class BlockSettings {
  private final SettingEdits edits;
  private final Directive block;
  private final Function<SourceText, List<Directive>> language;
  private final Consumer<Directive> mayChange;
  private final BlockEdit inside;

  /**
   * Nothing changed yet.
   *
   * @param edits takes the changes
   * @param language reads the lines of this language
   * @param mayChange refuses a directive that must not be changed for this block alone
   */
  public BlockSettings(
      SettingEdits edits,
      Directive block,
      Function<SourceText, List<Directive>> language,
      Consumer<Directive> mayChange) {
    this.edits = edits;
    this.block = block;
    this.language = language;
    this.mayChange = mayChange;
    this.inside = BlockEdit.in(edits.of(block.source()), block);
  }

  /**
   * Refuses a directive of a file that several places include: it is not changed for one of them.
   *
   * @param uses in how many places its file is included
   * @param server the server, for messages
   * @param place the place that is meant
   * @throws SymbolonException if it is more than one
   */
  public static void checkAlone(Directive directive, int uses, String server, String place) {
    if (uses > 1) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was changed.",
          "The setting "
              + directive.name()
              + " stands in "
              + VisibleText.of(directive.source().path().toString())
              + ", which "
              + server
              + " includes in "
              + uses
              + " places.",
          "Change that file by hand for all of them, or take its include line out of "
              + VisibleText.of(place)
              + " and give the command again.");
    }
  }

  /** {@return what puts lines into the block} */
  public BlockEdit edit() {
    return inside;
  }

  /**
   * Lets a setting stand so.
   *
   * @param lines its lines; none takes it away
   */
  public void set(String name, List<String> lines) {
    replace(block.inside(name), lines);
  }

  /**
   * Puts lines in the place of others.
   *
   * @param old what stands there
   * @param lines what is to stand there
   */
  public void replace(List<Directive> old, List<String> lines) {
    old.forEach(mayChange);
    for (int i = 0; i < Math.max(old.size(), lines.size()); i++) {
      if (i >= lines.size()) {
        edit(old.get(i)).remove(old.get(i));
      } else if (i >= old.size()) {
        inside.append(lines.get(i));
      } else if (!isSame(old.get(i), lines.get(i))) {
        edits.of(old.get(i).source()).replace(old.get(i).from(), old.get(i).to(), lines.get(i));
      }
    }
  }

  private BlockEdit edit(Directive one) {
    return one.source() == block.source() ? inside : BlockEdit.in(edits.of(one.source()), block);
  }

  /** Whether a line says what a directive says already, in whatever quotes. */
  private boolean isSame(Directive old, String line) {
    Directive fresh =
        language.apply(SourceText.of(Path.of("new"), line.getBytes(StandardCharsets.UTF_8))).get(0);
    return fresh.is(old.name()) && fresh.values().equals(old.values());
  }

  /** Makes changes of what is new. */
  public void finish() {
    inside.finish();
  }
}
