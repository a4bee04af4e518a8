// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import java.security.SecureRandom;
import java.util.Arrays;

/**
 * How a new password is made: its length, and the characters that the place where it is written
 * can't take.
 *
 * @param length how many characters it has
 * @param without the characters that are left out of {@link #ALPHABET}
 */
public record PasswordRecipe(int length, String without) {
  /**
   * The letters and digits of new passwords: none that look alike (I l 1, O o 0), and nothing that
   * a shell, XML, a properties file or an ini file would take for its own.
   */
  public static final String ALPHABET = "ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnpqrstuvwxyz23456789";

  /** The usual one: 26 characters, about 150 bits. */
  public static final PasswordRecipe USUAL = new PasswordRecipe(26, "");

  /** As hard to guess as a key of this many bits, so that no rounds of a derivation are needed. */
  private static final int AS_A_KEY = 128;

  /** Fewer bits than this are guessed by who wants to, in spite of the rounds. */
  private static final int FEW = 64;

  private static final int LEAST_LETTERS = 10;

  /**
   * Checks that a password can be made so.
   *
   * @throws SymbolonException if it is too short or too long, or too few characters are left
   */
  public PasswordRecipe {
    if (length < Limits.MADE_PASSWORD_LEAST || length > Limits.MADE_PASSWORD_MOST) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "No password is made.",
          "It would have " + length + " characters.",
          "Choose from "
              + Limits.MADE_PASSWORD_LEAST
              + " to "
              + Limits.MADE_PASSWORD_MOST
              + " characters.");
    }
    if (alphabet(without).length() < LEAST_LETTERS) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "No password is made.",
          "Only " + alphabet(without).length() + " characters are left to make it of.",
          "Leave fewer out. It is made of " + ALPHABET + ".");
    }
  }

  private static String alphabet(String without) {
    StringBuilder left = new StringBuilder();
    ALPHABET.chars().filter(c -> without.indexOf(c) < 0).forEach(c -> left.append((char) c));
    return left.toString();
  }

  /** {@return how hard it is to guess, in bits} */
  public int bits() {
    return (int) (length * (Math.log(alphabet(without).length()) / Math.log(2)));
  }

  /** {@return whether it is as hard to guess as a key} */
  public boolean isAsStrongAsAKey() {
    return bits() >= AS_A_KEY;
  }

  /** {@return whether it can be guessed by who wants to} */
  public boolean isWeak() {
    return bits() < FEW;
  }

  /**
   * {@return a new password}
   *
   * @param source what to call where it comes from
   */
  public Secret make(String source) {
    String letters = alphabet(without);
    SecureRandom random = new SecureRandom();
    char[] characters = new char[length];
    for (int i = 0; i < characters.length; i++) {
      characters[i] = letters.charAt(random.nextInt(letters.length()));
    }
    try {
      return Secret.of(characters, source);
    } finally {
      Arrays.fill(characters, '\0');
    }
  }
}
