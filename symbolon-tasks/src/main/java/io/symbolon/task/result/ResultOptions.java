// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.file.Existing;
import io.symbolon.file.FolderWork;
import io.symbolon.file.Owner;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.remedy.Input;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.SealSource;
import io.symbolon.task.WrongJob;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Stream;

/**
 * How a result is to be written.
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
    Optional<SealSource> seal,
    Optional<SealSource> sealKey,
    NewPassword newPassword,
    Optional<Pkcs12Strength> protection) {
  /** What is usual: nothing is replaced, PKCS#8, sealed, with a password that is asked for. */
  public static final ResultOptions USUAL =
      new ResultOptions(
          Existing.KEEP,
          Optional.empty(),
          KeyForm.PKCS8,
          false,
          Optional.empty(),
          Optional.empty(),
          NewPassword.USUAL,
          Optional.empty());

  /**
   * {@return the usual, sealed with a password}
   *
   * @param source where the password comes from
   */
  public static ResultOptions sealedWith(SealSource source) {
    return new ResultOptions(
        Existing.KEEP,
        Optional.empty(),
        KeyForm.PKCS8,
        false,
        Optional.of(source),
        Optional.empty(),
        NewPassword.USUAL,
        Optional.empty());
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
        .filter(NewPasswordFile.class::isInstance)
        .map(source -> ((NewPasswordFile) source).path())
        .toList();
  }

  /** How a PKCS#12 shall be protected. */
  public Pkcs12Strength strength(Format target) {
    if (protection.isPresent() && !target.can(Ability.CHOSEN_PROTECTION)) {
      throw new WrongJob(
          Input.PROTECTION.mention()
              + " is for PKCS#12 and for sealed keys in PEM and DER, and the result is "
              + target.title()
              + ".",
          "Leave it out.");
    }
    if (protection.isPresent() && unsealed) {
      throw new WrongJob(
          Input.PROTECTION.mention() + " is given, but nothing is sealed.",
          "Leave one of them out.");
    }
    if (protection.filter(one -> one == Pkcs12Strength.PBMAC1).isPresent() && !target.isStore()) {
      throw new WrongJob(
          Input.PROTECTION.mention("pbmac1")
              + " is for PKCS#12, and the result is "
              + target.title()
              + ".",
          "Say strong or weak.");
    }
    return protection.orElse(Pkcs12Strength.STRONG);
  }

  /**
   * Does something while nobody else changes these files: no other command of Symbolon can read one
   * of them, change it and replace what this one has written in between.
   *
   * @param files the files that change
   * @param work what is done
   * @return what it gives
   */
  public <T> T holding(List<Path> files, Supplier<T> work) {
    List<Path> all = new ArrayList<>(files);
    all.addAll(newPasswordFiles());
    return FolderWork.holding(all, work);
  }
}
