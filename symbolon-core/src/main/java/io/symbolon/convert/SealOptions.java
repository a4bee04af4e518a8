// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.seal.Secret;
import java.util.Optional;

/**
 * How what is written is wrapped.
 *
 * @param keyForm the structure of private keys in PEM and DER
 * @param strength how a PKCS#12 is protected
 * @param seal the password of the store, or of the private keys in PEM and DER
 * @param sealKey the password of the keys in a store, where they shall have one of their own
 */
public record SealOptions(
    KeyForm keyForm, Pkcs12Strength strength, Optional<Secret> seal, Optional<Secret> sealKey) {
  /**
   * Open where the format allows it: for public content, and for keys when that is asked for.
   *
   * @return the seal options
   */
  public static SealOptions open() {
    return new SealOptions(
        KeyForm.PKCS8, Pkcs12Strength.STRONG, Optional.empty(), Optional.empty());
  }

  /**
   * Sealed with today's protection.
   *
   * @param seal the password
   * @return the seal options
   */
  public static SealOptions sealed(Secret seal) {
    return new SealOptions(
        KeyForm.PKCS8, Pkcs12Strength.STRONG, Optional.of(seal), Optional.empty());
  }

  /**
   * With another structure of private keys.
   *
   * @return a changed copy
   */
  public SealOptions with(KeyForm keyForm) {
    return new SealOptions(keyForm, strength, seal, sealKey);
  }

  /**
   * With another protection of a PKCS#12.
   *
   * @param strength how strongly it is protected
   * @return a changed copy
   */
  public SealOptions with(Pkcs12Strength strength) {
    return new SealOptions(keyForm, strength, seal, sealKey);
  }

  /**
   * With a password of their own for the keys in a store.
   *
   * @param sealKey the password of the key
   * @return a changed copy
   */
  public SealOptions withKeySealed(Secret sealKey) {
    return new SealOptions(keyForm, strength, seal, Optional.of(sealKey));
  }

  /**
   * {@return how a file of this format is sealed, in words: the algorithms and the rounds}
   *
   * @param strength how strongly it is protected
   */
  public static String description(Format format, Pkcs12Strength strength) {
    return WrittenFormat.of(format).protection().apply(strength);
  }
}
