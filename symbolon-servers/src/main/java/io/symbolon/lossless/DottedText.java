// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.Collection;
import java.util.List;
import java.util.Map;

/** A settings file of values under dotted names, whatever language it is written in. */
public interface DottedText {
  /**
   * A value under its name.
   *
   * @param name the whole name, with dots
   * @param value what it means
   * @param document in which document of the file it stands, from 0
   * @param from where the value begins
   * @param to where it ends, exclusive
   */
  record Named(String name, String value, int document, int from, int to) {
    /**
     * {@return the name with its parts in small letters, without dashes and underlines, as many
     * programs compare them}
     */
    public String plainName() {
      return plain(name);
    }
  }

  /** {@return a name as it is compared} */
  static String plain(String name) {
    StringBuilder plain = new StringBuilder();
    for (int i = 0; i < name.length(); i++) {
      char c = name.charAt(i);
      if (c != '-' && c != '_') {
        plain.append(Character.toLowerCase(c));
      }
    }
    return plain.toString();
  }

  /** {@return the file} */
  SourceText source();

  /** {@return all values, in order} */
  List<Named> settings();

  /**
   * Puts another value in the place of one.
   *
   * @param edits takes the change
   * @param old the value that is there
   * @param value the new one; one line
   */
  void replace(Edits edits, Named old, String value);

  /**
   * Takes settings away, with what would be empty then, and puts others into the first document.
   *
   * @param edits takes the changes
   * @param away the settings that go
   * @param fresh values by their names, in order; none of them is there yet
   */
  void change(Edits edits, Collection<Named> away, Map<String, String> fresh);
}
