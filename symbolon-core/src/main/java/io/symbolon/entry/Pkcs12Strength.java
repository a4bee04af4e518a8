// SPDX-License-Identifier: Apache-2.0
package io.symbolon.entry;

import io.symbolon.seal.PasswordMac;
import io.symbolon.seal.Protection;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;

/** How a PKCS#12 is protected when it is written. */
public enum Pkcs12Strength {
  /**
   * Today's: PBES2 with AES-256-CBC and PBKDF2-HMAC-SHA-256, and a MAC with HMAC-SHA-256. Java
   * opens it since version 8u301 and 11.0.12.
   */
  STRONG("strong", PasswordMac.Scheme.SHA256, 100_000, "PBES2, AES-256, PBKDF2-HMAC-SHA-256"),
  /**
   * The same with PBMAC1 (RFC 9579) for a MAC, as rules that forbid the key derivation of PKCS#12
   * ask for. Few readers know it yet.
   */
  PBMAC1(
      "pbmac1", PasswordMac.Scheme.PBMAC1, 100_000, "PBES2, AES-256, PBKDF2-HMAC-SHA-256, PBMAC1"),
  /**
   * The same as the first for a password of 128 random bits or more, which nobody guesses: rounds
   * add nothing to it, and hundreds of stores are written in the time of ten.
   */
  RANDOM_PASSWORD("", PasswordMac.Scheme.SHA256, 10_000, "PBES2, AES-256, PBKDF2-HMAC-SHA-256"),
  /** Weak, for readers that know nothing else: SHA-1 and 3DES throughout. */
  WEAK("weak", PasswordMac.Scheme.SHA1, 10_000, "SHA-1 and 3DES");

  private final String word;
  private final PasswordMac.Scheme mac;
  private final int rounds;
  private final String description;

  Pkcs12Strength(String word, PasswordMac.Scheme mac, int rounds, String description) {
    this.word = word;
    this.mac = mac;
    this.rounds = rounds;
    this.description = description;
  }

  /**
   * {@return the strength that a word asks for} Nothing where the word means none.
   *
   * @param word {@code strong}, {@code weak} or {@code pbmac1}
   */
  public static Optional<Pkcs12Strength> ofWord(String word) {
    return Arrays.stream(values())
        .filter(one -> !one.word.isEmpty() && one.word.equals(word))
        .findFirst();
  }

  /** {@return the scheme of the integrity check} */
  public PasswordMac.Scheme mac() {
    return mac;
  }

  /**
   * Derivation rounds. For what is strong, ten times what Java writes itself, and a guess of the
   * password costs as much; opening a store three times (key, certificates, MAC) stays well under a
   * second on a small server, and no reader in use refuses it: Java's limit is 5,000,000. For what
   * is weak, as many as the oldest readers are known to take.
   *
   * @return the number
   */
  public int rounds() {
    return rounds;
  }

  /** {@return the algorithms in words} */
  public String description() {
    return description;
  }

  /**
   * {@return the protection of keys and certificates, with a fresh salt}
   *
   * @param random where random numbers come from
   */
  public Protection protection(SecureRandom random) {
    return this == WEAK
        ? Protection.forOldReaders(random, rounds)
        : Protection.strong(random, rounds);
  }
}
