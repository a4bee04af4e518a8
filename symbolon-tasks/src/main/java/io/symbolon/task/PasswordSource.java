// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Locale;

/**
 * Where a password comes from each time that it is needed. It is never the password itself, so that
 * a job can be stored and shown.
 *
 * @param kind what it comes from
 * @param name the path of the file, or the name of the variable; empty for the other kinds
 */
public record PasswordSource(Kind kind, String name) implements SealSource {
  /** What a password comes from. */
  public enum Kind {
    /** The first line of a file, or of each file in a folder. */
    FILE,
    /** A variable of the environment. */
    ENV,
    /** A person at a terminal. */
    ASK,
    /** The empty password. */
    EMPTY;

    /** {@return how it is written} */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /**
     * {@return the kind of a word}
     *
     * @throws SymbolonException if there is none
     */
    public static Kind ofWord(String word) {
      return Arrays.stream(values())
          .filter(kind -> kind.word().equals(word))
          .findFirst()
          .orElseThrow(
              () ->
                  new SymbolonException(
                      Reason.INVALID_ARGUMENT,
                      "This is no source of a password.",
                      "Its kind is none of file, env, ask and empty.",
                      "Use one of them."));
    }
  }

  /** Asked of a person. */
  public static final PasswordSource ASKED = new PasswordSource(Kind.ASK, "");

  /** The empty password. */
  public static final PasswordSource EMPTY = new PasswordSource(Kind.EMPTY, "");

  /** {@return the first line of a file; of each file, if it is a folder} */
  public static PasswordSource file(Path file) {
    return new PasswordSource(Kind.FILE, file.toString());
  }

  /** {@return how it is called where it is spoken of, such as {@code file=PATH}} */
  public String text() {
    return name.isEmpty() ? kind.word() : kind.word() + "=" + name;
  }

  /**
   * Checks that a name is there where one is needed.
   *
   * @throws SymbolonException if there is none, or one too many
   */
  public PasswordSource {
    boolean named = kind == Kind.FILE || kind == Kind.ENV;
    if (named == name.isEmpty()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "This is no source of a password.",
          named ? "No file and no variable is named." : "It has a name and needs none.",
          "Name a file or a variable; the other kinds have no name.");
    }
  }
}
