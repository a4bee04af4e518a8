// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

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
}
