// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A setting of a file that is made of names with words behind them, some with a block of more.
 *
 * @param source the file that it stands in
 * @param name its name as it is written
 * @param words the words behind the name
 * @param from where it begins
 * @param to where it ends, exclusive: behind its semicolon, its line or its block
 * @param block what is inside, where it has a block
 */
public record Directive(
    SourceText source, String name, List<Word> words, int from, int to, Optional<Block> block) {

  /**
   * The inside of a block.
   *
   * @param from where it begins, behind what opens the block
   * @param to where it ends, before what closes the block
   * @param directives what stands in it, in order
   */
  public record Block(int from, int to, List<Directive> directives) {
    /**
     * Copies the directives.
     *
     * @param from where it begins
     * @param to where it ends
     * @param directives what stands in it
     */
    public Block {
      directives = List.copyOf(directives);
    }
  }

  /** Copies the words. */
  public Directive {
    words = List.copyOf(words);
  }

  /**
   * {@return whether it has this name; letters count the same in both cases}
   *
   * @param other the name
   */
  public boolean is(String other) {
    return name.toLowerCase(Locale.ROOT).equals(other.toLowerCase(Locale.ROOT));
  }

  /** {@return what its words mean} */
  public List<String> values() {
    return words.stream().map(Word::value).toList();
  }

  /**
   * {@return what a word means; the empty text where there is none}
   *
   * @param index which word, from 0
   */
  public String value(int index) {
    return index < words.size() ? words.get(index).value() : "";
  }

  /** {@return what stands in its block; nothing where it has none} */
  public List<Directive> inside() {
    return block.map(Block::directives).orElse(List.of());
  }

  /**
   * {@return what stands in its block under a name}
   *
   * @param wanted the name
   */
  public List<Directive> inside(String wanted) {
    return inside().stream().filter(one -> one.is(wanted)).toList();
  }

  /**
   * {@return the same with other directives in its block}
   *
   * @param inside what stands in the block
   */
  public Directive withInside(List<Directive> inside) {
    Block own = block.orElseThrow();
    return new Directive(
        source, name, words, from, to, Optional.of(new Block(own.from(), own.to(), inside)));
  }

  /** {@return itself and everything inside, at any depth, in order} */
  public Stream<Directive> all() {
    return Stream.concat(Stream.of(this), inside().stream().flatMap(Directive::all));
  }

  /** {@return the number of its line} */
  public int line() {
    return source.line(from);
  }
}
