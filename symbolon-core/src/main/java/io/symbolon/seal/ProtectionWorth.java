// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

/**
 * How something in a file is protected, told for people.
 *
 * @param what what is protected, such as {@code keys}
 * @param scheme the scheme, such as {@code PBES2, AES-256-CBC, PBKDF2-HMAC-SHA-256}
 * @param rounds the number of derivation rounds
 * @param strength what it is worth today
 */
public record ProtectionWorth(String what, String scheme, int rounds, Strength strength) {
  /** Fewer rounds than these let somebody with the file try passwords by the million. */
  public static final int FEW = 10_000;

  /** What a protection is worth. */
  public enum Strength {
    /** As good as the password. */
    SOUND,
    /** The scheme is sound, but its few rounds make guessing the password fast. */
    FEW_ROUNDS,
    /** The scheme itself is outdated: it can be broken, or guessing costs nearly nothing. */
    WEAK
  }

  /** {@return what a protection is worth} */
  public static ProtectionWorth of(Protection protection, String what) {
    return new ProtectionWorth(
        what,
        protection.description(),
        protection.rounds(),
        protection.isWeak() ? Strength.WEAK : byRounds(protection.rounds()));
  }

  /**
   * {@return what an integrity check is worth: it tells a guessed password, too}
   *
   * @param mac the check against changes
   */
  public static ProtectionWorth of(PasswordMac mac) {
    return new ProtectionWorth(
        "integrity", mac.description(), mac.rounds(), byRounds(mac.rounds()));
  }

  /**
   * {@return the protection of a key in one of Java's older keystores: both kinds rest on broken
   * digests}
   */
  public static ProtectionWorth of(JavaKeyProtection protection) {
    return new ProtectionWorth(
        "keys", protection.description(), protection.rounds(), Strength.WEAK);
  }

  /** {@return the protection of a key in PEM by header lines} */
  public static ProtectionWorth of(HeaderProtection protection) {
    return new ProtectionWorth("keys", protection.description(), 1, Strength.WEAK);
  }

  /** {@return the integrity check of Java's older keystores} */
  public static ProtectionWorth ofJavaStore() {
    return new ProtectionWorth("integrity", "SHA-1 over the password and all", 1, Strength.WEAK);
  }

  private static Strength byRounds(int rounds) {
    return rounds < FEW ? Strength.FEW_ROUNDS : Strength.SOUND;
  }

  /** Such as {@code keys: PBES2, AES-256-CBC, PBKDF2-HMAC-SHA-256, 100000 rounds}. */
  @Override
  public String toString() {
    return what + ": " + scheme + ", " + rounds + (rounds == 1 ? " round" : " rounds");
  }
}
