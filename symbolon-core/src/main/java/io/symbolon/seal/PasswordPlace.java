// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import java.util.Arrays;
import java.util.EnumSet;
import java.util.Set;

/** Where servers want a password to be written, and what is not taken there as it stands. */
public enum PasswordPlace {
  /** An attribute or a text of XML: entities and quotes. */
  XML("XML", "&<>\"'"),
  /** A properties file of Java: escapes, and the marks of what is put in. */
  PROPERTIES("a properties file", "\\${}"),
  /** An ini file, and the settings of many servers: comments and quotes. */
  INI("an ini file", "#;\"'\\%"),
  /** A shell: all that is not plain. */
  SHELL("a shell", "!\"#$&'()*;<>?[\\]^`{|}~");

  private final String title;
  private final String special;

  PasswordPlace(String title, String special) {
    this.title = title;
    this.special = special;
  }

  /** {@return what to call it in a sentence} */
  public String title() {
    return title;
  }

  /**
   * {@return the places that take a password for something else, where it is written as it stands}
   */
  public static Set<PasswordPlace> misreading(Secret password) {
    Set<PasswordPlace> places = EnumSet.noneOf(PasswordPlace.class);
    char[] characters = password.reveal();
    try {
      for (int i = 0; i < characters.length; i++) {
        boolean edge = i == 0 || i == characters.length - 1;
        for (PasswordPlace place : values()) {
          if (place.takesForItsOwn(characters[i], edge)) {
            places.add(place);
          }
        }
      }
    } finally {
      Arrays.fill(characters, '\0');
    }
    return places;
  }

  private boolean takesForItsOwn(char c, boolean edge) {
    boolean space = c == ' ' || c == '\t';
    return special.indexOf(c) >= 0 || (space && (edge || this == SHELL)) || c < ' ';
  }
}
