// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.file.Existing;
import io.symbolon.file.Owner;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * How a result is to be written, as options say it.
 *
 * @param existing what to do about files that are there
 * @param owner to whom the result shall belong
 * @param keyForm the form of private keys in PEM and DER
 * @param unsealed whether a private key shall lie open
 * @param seal where the password for the result comes from
 * @param sealKey where the password for the keys in a keystore comes from
 * @param newPassword how a new password is made and saved
 * @param protection how a PKCS#12 is protected
 */
public record ResultOptions(
    Existing existing,
    Optional<Owner> owner,
    KeyForm keyForm,
    boolean unsealed,
    Optional<SecretSource> seal,
    Optional<SecretSource> sealKey,
    NewPassword newPassword,
    Optional<Pkcs12Strength> protection) {
  public static ResultOptions of(GivenOptions given) {
    ResultOptions options =
        new ResultOptions(
            given.existing(),
            given.owner(),
            keyForm(given),
            given.has("unsealed"),
            given.secret("seal"),
            given.secret("seal-key"),
            NewPassword.of(given),
            given.value("protection").map(ResultOptions::strength));
    if (NewPassword.isSaid(given) && options.newPasswordFiles().isEmpty()) {
      throw Usage.wrong(
          "These options are for a new password, and no new password is made.",
          "Have one made with --seal new=PATH, or leave --new-length, --new-without and"
              + " --no-line-end out.");
    }
    return options;
  }

  /** The same in the place of a file that is there. */
  public ResultOptions replacing() {
    return new ResultOptions(
        Existing.REPLACE, owner, keyForm, unsealed, seal, sealKey, newPassword, protection);
  }

  public boolean replaces() {
    return existing == Existing.REPLACE;
  }

  /** The files in which new passwords will be saved. */
  public List<Path> newPasswordFiles() {
    return Stream.of(seal, sealKey)
        .flatMap(Optional::stream)
        .flatMap(source -> source.newFile().stream())
        .toList();
  }

  /** How a PKCS#12 shall be protected. */
  public Pkcs12Strength strength(Format target) {
    if (protection.isPresent() && !target.can(Ability.CHOSEN_PROTECTION)) {
      throw Usage.wrong(
          "--protection is for PKCS#12 and for sealed keys in PEM and DER, and the result is "
              + target.title()
              + ".",
          "Leave it out.");
    }
    if (protection.isPresent() && unsealed) {
      throw Usage.wrong("--protection is given, but nothing is sealed.", "Leave one of them out.");
    }
    if (protection.filter(one -> one == Pkcs12Strength.PBMAC1).isPresent() && !target.isStore()) {
      throw Usage.wrong(
          "--protection pbmac1 is for PKCS#12, and the result is " + target.title() + ".",
          "Say strong or weak.");
    }
    return protection.orElse(Pkcs12Strength.STRONG);
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
