// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

import io.symbolon.convert.SealOptions;
import io.symbolon.convert.StoreEdit;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.remedy.Input;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * How what is written shall be protected, with every password known before any work begins.
 *
 * @param form the form of private keys in PEM and DER
 * @param strength how a PKCS#12 is protected
 * @param seal the password; none where it lies open
 * @param sealKey the password of the keys in a keystore, where it is another
 */
public record OutputProtection(
    KeyForm form,
    Pkcs12Strength strength,
    Optional<SealPassword> seal,
    Optional<SealPassword> sealKey) {
  /**
   * How something is sealed, in words.
   *
   * @param with with which passwords
   * @param how by which algorithms
   */
  public record Sealed(String with, String how) {}

  /**
   * Asks for what the options leave open.
   *
   * @param holdsKeys whether a private key is written
   */
  public static OutputProtection of(
      TaskRun run, ResultOptions options, Destination destination, boolean holdsKeys) {
    KeyForm form = options.keyForm();
    Pkcs12Strength strength = options.strength(destination.target());
    boolean open = open(options, destination, holdsKeys);
    boolean mayLieOpen = holdsKeys && !destination.target().isStore();
    if (mayLieOpen && !open && options.seal().isEmpty() && !run.around().isAttended()) {
      throw new WrongJob(
          "No protection is given for the private key in " + destination.shown() + ".",
          "Add "
              + Input.SEALED_WITH.mention("new=PATH")
              + " to have it sealed with a strong password (or file=PATH, env=NAME,"
              + " ask), or "
              + Input.UNSEALED.mention()
              + " to let it lie open.");
    }
    boolean needed = destination.target().isStore() || holdsKeys;
    Optional<SealPassword> seal =
        needed && !open
            ? Optional.of(SealPassword.of(run, options.seal(), Input.SEALED_WITH, options))
            : Optional.empty();
    if (seal.isEmpty() && options.seal().isPresent()) {
      throw new WrongJob(
          "There is nothing to seal: "
              + (open
                  ? Input.UNSEALED.mention() + " is said."
                  : "no private key is written, and no keystore."),
          "Leave " + Input.SEALED_WITH.mention() + " out.");
    }
    return new OutputProtection(
        form, strength, seal, sealKey(run, options, destination, holdsKeys));
  }

  /** As a keystore was protected before it was changed, unless something else is said. */
  public static OutputProtection of(
      TaskRun run, ResultOptions options, Destination destination, StoreEdit edit) {
    if (options.unsealed()) {
      throw new WrongJob(
          "A " + destination.target().title() + " always has a password.",
          "Leave " + Input.UNSEALED.mention() + " out.");
    }
    SealPassword seal =
        options.seal().isPresent()
            ? SealPassword.of(run, options.seal(), Input.SEALED_WITH, options)
            : new SealPassword(edit.password(), Existing.REPLACE);
    Pkcs12Strength strength =
        options.protection().isPresent() ? options.strength(destination.target()) : edit.strength();
    return new OutputProtection(
        KeyForm.PKCS8,
        strength,
        Optional.of(seal),
        sealKey(run, options, destination, true)
            .or(
                () ->
                    edit.keyPassword()
                        .filter(own -> options.seal().isEmpty())
                        .map(own -> new SealPassword(own, Existing.REPLACE))));
  }

  /** For what holds nothing to protect. */
  public static OutputProtection none() {
    return new OutputProtection(
        KeyForm.PKCS8, Pkcs12Strength.STRONG, Optional.empty(), Optional.empty());
  }

  /** With a password that is known. */
  public static OutputProtection of(SealPassword seal, Pkcs12Strength strength) {
    return new OutputProtection(KeyForm.PKCS8, strength, Optional.of(seal), Optional.empty());
  }

  /** With passwords that are known, where a key in a keystore may have one of its own. */
  public static OutputProtection of(
      SealPassword seal, Optional<SealPassword> sealKey, Pkcs12Strength strength) {
    return new OutputProtection(KeyForm.PKCS8, strength, Optional.of(seal), sealKey);
  }

  private static Optional<SealPassword> sealKey(
      TaskRun run, ResultOptions options, Destination destination, boolean holdsKeys) {
    if (options.sealKey().isEmpty()) {
      return Optional.empty();
    }
    if (!destination.target().isStore() || !holdsKeys) {
      throw new WrongJob(
          Input.KEY_PASSWORD.mention()
              + " is for keys in a keystore, and no such thing is written.",
          "Leave it out; "
              + Input.SEALED_WITH.mention()
              + " protects a private key in a file of its own.");
    }
    return Optional.of(SealPassword.of(run, options.sealKey(), Input.KEY_PASSWORD, options));
  }

  /** Whether private keys shall lie open, which only some formats allow. */
  private static boolean open(ResultOptions options, Destination destination, boolean holdsKeys) {
    if (!options.unsealed()) {
      return false;
    }
    if (destination.target().isStore()) {
      throw new WrongJob(
          "A " + destination.target().title() + " always has a password.",
          "Leave "
              + Input.UNSEALED.mention()
              + " out, or say "
              + Input.SEALED_WITH.mention("empty")
              + ".");
    }
    if (!holdsKeys) {
      throw new WrongJob(
          "There is no private key in the result that could lie open.",
          "Leave " + Input.UNSEALED.mention() + " out.");
    }
    return true;
  }

  public SealOptions wrapping() {
    return new SealOptions(
        form, strength, seal.map(SealPassword::secret), sealKey.map(SealPassword::secret));
  }

  /** The files of new passwords, which the caller writes and wipes. */
  public List<FileItem> passwordFiles() {
    List<FileItem> files = new ArrayList<>();
    seal.flatMap(SealPassword::item).ifPresent(files::add);
    sealKey.flatMap(SealPassword::item).ifPresent(files::add);
    return files;
  }

  /** How it is sealed; nothing where it lies open. */
  public Optional<Sealed> sealed(Format target) {
    if (seal.isEmpty()) {
      return Optional.empty();
    }
    String how = SealOptions.description(target, strength);
    return Optional.of(
        new Sealed(
            seal.get().description()
                + sealKey.map(key -> ", the keys with " + key.description()).orElse(""),
            how));
  }
}
