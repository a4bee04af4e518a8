// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

/**
 * How somebody who uses Symbolon gives an input: an option on a command line, a field of a form, a
 * setter of a builder. A sentence mentions an {@link Input}, and only who shows it knows its name.
 */
@FunctionalInterface
public interface Naming {
  /**
   * As people say it, where no way of giving it is known: by its title, or by a value that says
   * enough, such as {@code keystore.p12}. One in capitals only stands for a value.
   */
  Naming PLAIN = (input, value) -> value.matches("[A-Z:@=]*(\\.\\.\\.)?") ? input.title() : value;

  /** As marks again, for a sentence that becomes a part of another one. */
  Naming MARKS = Input::mention;

  /**
   * {@return how the input is given}
   *
   * @param input what is mentioned
   * @param value what it is to be given, such as {@code file=PATH}; empty where it is not said
   */
  String of(Input input, String value);

  /**
   * {@return a text in which everything that it mentions has its name}
   *
   * @param text the text, as {@link Input#mention(String)} put it together
   */
  default String in(String text) {
    return Mention.replaced(text, this);
  }
}
