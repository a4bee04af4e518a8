// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.key.KeyForm;
import io.symbolon.seal.PasswordRecipe;
import io.symbolon.task.result.NewPassword;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.text.VisibleText;

/** How a result is to be written, as options say it. */
public final class ResultChoice {
  private ResultChoice() {}

  public static ResultOptions of(GivenOptions given) {
    ResultOptions options =
        new ResultOptions(
            given.existing(),
            given.owner(),
            keyForm(given),
            given.has("unsealed"),
            given.seal("seal"),
            given.seal("seal-key"),
            newPassword(given),
            given.value("protection").map(ResultChoice::strength));
    boolean said = given.has("new-length") || given.has("new-without") || given.has("no-line-end");
    if (said && options.newPasswordFiles().isEmpty()) {
      throw Usage.wrong(
          "These options are for a new password, and no new password is made.",
          "Have one made with --seal new=PATH, or leave --new-length, --new-without and"
              + " --no-line-end out.");
    }
    return options;
  }

  /** How a new password is made and saved. */
  public static NewPassword newPassword(GivenOptions given) {
    int length =
        given.value("new-length").map(ResultChoice::number).orElse(PasswordRecipe.USUAL.length());
    return new NewPassword(
        new PasswordRecipe(length, given.value("new-without").orElse("")),
        !given.has("no-line-end"));
  }

  private static int number(String text) {
    if (!text.matches("[0-9]{1,4}")) {
      throw Usage.wrong("The value of --new-length is not a number.", "Say how many characters.");
    }
    return Integer.parseInt(text);
  }

  private static Pkcs12Strength strength(String word) {
    return Pkcs12Strength.ofWord(word)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no protection '" + VisibleText.of(word) + "'.",
                    "Say strong, weak or pbmac1."));
  }

  private static KeyForm keyForm(GivenOptions given) {
    String word = given.value("key-as").orElse("pkcs8");
    return switch (word) {
      case "pkcs8" -> KeyForm.PKCS8;
      case "pkcs1" -> unsealed(given, KeyForm.PKCS1);
      case "sec1" -> unsealed(given, KeyForm.SEC1);
      default ->
          throw Usage.wrong(
              "There is no form of private keys '" + VisibleText.of(word) + "'.",
              "Say pkcs8, pkcs1 or sec1.");
    };
  }

  private static KeyForm unsealed(GivenOptions given, KeyForm form) {
    if (!given.has("unsealed")) {
      throw Usage.wrong(
          "A private key as " + form.title() + " can't be sealed.",
          "Add --unsealed if it is to lie open, or leave --key-as out to have it sealed as PKCS#8.");
    }
    return form;
  }
}
