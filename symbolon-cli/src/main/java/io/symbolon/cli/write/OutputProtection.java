// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.write;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SealPassword;
import io.symbolon.cli.frame.Usage;
import io.symbolon.convert.SealOptions;
import io.symbolon.convert.StoreEdit;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
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
      Invocation invocation, ResultOptions options, Destination destination, boolean holdsKeys) {
    KeyForm form = options.keyForm();
    Pkcs12Strength strength = options.strength(destination.target());
    boolean open = open(options, destination, holdsKeys);
    boolean mayLieOpen = holdsKeys && !destination.target().isStore();
    if (mayLieOpen && !open && options.seal().isEmpty() && !invocation.session().errIsTerminal()) {
      throw Usage.wrong(
          "No protection is given for the private key in " + destination.shown() + ".",
          "Add --seal new=PATH to have it sealed with a strong password (or file=PATH, env=NAME,"
              + " ask), or --unsealed to let it lie open.");
    }
    boolean needed = destination.target().isStore() || holdsKeys;
    Optional<SealPassword> seal =
        needed && !open ? Optional.of(invocation.seal(options)) : Optional.empty();
    if (seal.isEmpty() && options.seal().isPresent()) {
      throw Usage.wrong(
          "There is nothing to seal: "
              + (open ? "--unsealed is said." : "no private key is written, and no keystore."),
          "Leave --seal out.");
    }
    return new OutputProtection(
        form, strength, seal, sealKey(invocation, options, destination, holdsKeys));
  }

  /** As a keystore was protected before it was changed, unless something else is said. */
  public static OutputProtection of(
      Invocation invocation, ResultOptions options, Destination destination, StoreEdit edit) {
    if (options.unsealed()) {
      throw Usage.wrong(
          "A " + destination.target().title() + " always has a password.", "Leave --unsealed out.");
    }
    SealPassword seal =
        options.seal().isPresent()
            ? invocation.seal(options)
            : new SealPassword(edit.password(), Existing.REPLACE);
    Pkcs12Strength strength =
        options.protection().isPresent() ? options.strength(destination.target()) : edit.strength();
    return new OutputProtection(
        KeyForm.PKCS8,
        strength,
        Optional.of(seal),
        sealKey(invocation, options, destination, true)
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
      Invocation invocation, ResultOptions options, Destination destination, boolean holdsKeys) {
    if (options.sealKey().isEmpty()) {
      return Optional.empty();
    }
    if (!destination.target().isStore() || !holdsKeys) {
      throw Usage.wrong(
          "--seal-key is for keys in a keystore, and no such thing is written.",
          "Leave it out; --seal protects a private key in a file of its own.");
    }
    return Optional.of(invocation.sealKey(options));
  }

  /** Whether private keys shall lie open, which only some formats allow. */
  private static boolean open(ResultOptions options, Destination destination, boolean holdsKeys) {
    if (!options.unsealed()) {
      return false;
    }
    if (destination.target().isStore()) {
      throw Usage.wrong(
          "A " + destination.target().title() + " always has a password.",
          "Leave --unsealed out, or say --seal empty.");
    }
    if (!holdsKeys) {
      throw Usage.wrong(
          "There is no private key in the result that could lie open.", "Leave --unsealed out.");
    }
    return true;
  }

  public SealOptions wrapping() {
    return new SealOptions(
        form, strength, seal.map(SealPassword::secret), sealKey.map(SealPassword::secret));
  }

  /** The files of new passwords, which the caller writes and wipes. */
  public List<FileSet.Item> passwordFiles() {
    List<FileSet.Item> files = new ArrayList<>();
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
