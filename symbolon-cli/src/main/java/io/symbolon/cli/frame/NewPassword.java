// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.seal.PasswordRecipe;

/**
 * How a new password is made and saved.
 *
 * @param recipe how it is made
 * @param lineEnd whether a line end is written behind it
 */
public record NewPassword(PasswordRecipe recipe, boolean lineEnd) {
  /** As it is made where nothing else is said. */
  public static final NewPassword USUAL = new NewPassword(PasswordRecipe.USUAL, true);

  /** As the options say it. */
  public static NewPassword of(GivenOptions given) {
    int length =
        given.value("new-length").map(NewPassword::number).orElse(PasswordRecipe.USUAL.length());
    return new NewPassword(
        new PasswordRecipe(length, given.value("new-without").orElse("")),
        !given.has("no-line-end"));
  }

  /** Whether an option says how a password is made. */
  static boolean isSaid(GivenOptions given) {
    return given.has("new-length") || given.has("new-without") || given.has("no-line-end");
  }

  private static int number(String text) {
    if (!text.matches("[0-9]{1,4}")) {
      throw Usage.wrong("The value of --new-length is not a number.", "Say how many characters.");
    }
    return Integer.parseInt(text);
  }
}
