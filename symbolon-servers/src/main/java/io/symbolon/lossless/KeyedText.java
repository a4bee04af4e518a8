// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.Collection;
import java.util.List;

/**
 * A settings file of values under keys that may stand inside each other, whatever language it is
 * written in: sections of an ini file, objects of JSON, elements of XML.
 */
public interface KeyedText {
  /**
   * A value under its key.
   *
   * @param key the key, with what it stands in before it, the outermost first
   * @param value what it means
   * @param from where it is shown to begin; for its line
   * @param index which of the file's values it is, from 0
   */
  record Entry(List<String> key, String value, int from, int index) {
    /**
     * Copies the key.
     *
     * @param from where it begins
     * @param index which one it is
     */
    public Entry {
      key = List.copyOf(key);
    }
  }

  /**
   * A value that is to be written.
   *
   * @param text what it means; one line
   * @param bare whether it is a number or a truth value, in languages that tell these from text
   */
  record Value(String text, boolean bare) {
    /** {@return a value that is text} */
    public static Value of(String text) {
      return new Value(text, false);
    }
  }

  /**
   * A setting that is to be added.
   *
   * @param key the key, with what it stands in before it
   */
  record Fresh(List<String> key, Value value) {
    /** Copies the key. */
    public Fresh {
      key = List.copyOf(key);
    }
  }

  /** {@return the file} */
  SourceText source();

  /** {@return all values, in order} */
  List<Entry> entries();

  /** {@return what values can stand in and is there, also where nothing stands in it} */
  List<List<String>> sections();

  /**
   * Puts another value in the place of one.
   *
   * @param edits takes the change
   * @param old the value that is there
   * @param value the new one
   */
  void replace(Edits edits, Entry old, Value value);

  /**
   * Takes settings away, and adds others.
   *
   * @param edits takes the changes
   * @param away the settings that go
   * @param fresh the settings that come, in order; none of them is there yet
   */
  void change(Edits edits, Collection<Entry> away, List<Fresh> fresh);
}
