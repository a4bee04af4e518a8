// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.SecureRandom;
import java.security.spec.ECGenParameterSpec;
import java.security.spec.NamedParameterSpec;
import java.security.spec.RSAKeyGenParameterSpec;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** The kinds of key that are made here. */
public enum KeyKind {
  /** RSA with 2048 bits: the least that is accepted today. */
  RSA_2048("RSA", "2048"),
  /** RSA with 3072 bits. */
  RSA_3072("RSA", "3072"),
  /** RSA with 4096 bits. */
  RSA_4096("RSA", "4096"),
  /** EC on P-256. */
  EC_P256("EC", "secp256r1"),
  /** EC on P-384. */
  EC_P384("EC", "secp384r1"),
  /** EC on P-521. */
  EC_P521("EC", "secp521r1"),
  /** Ed25519. */
  ED25519("Ed25519", "Ed25519"),
  /** Ed448. */
  ED448("Ed448", "Ed448"),
  /** ML-DSA-44 (FIPS 204), where the running Java has it. */
  ML_DSA_44("ML-DSA-44", "ML-DSA-44"),
  /** ML-DSA-65. */
  ML_DSA_65("ML-DSA-65", "ML-DSA-65"),
  /** ML-DSA-87. */
  ML_DSA_87("ML-DSA-87", "ML-DSA-87");

  private final String generator;
  private final String parameters;

  KeyKind(String generator, String parameters) {
    this.generator = generator;
    this.parameters = parameters;
  }

  /**
   * Such as {@code rsa-3072} or {@code ec-p256}.
   *
   * @return the text
   */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /**
   * Such as {@code RSA 3072} or {@code EC P-256}.
   *
   * @return the text
   */
  public String title() {
    return switch (generator) {
      case "RSA" -> "RSA " + parameters;
      case "EC" -> "EC P-" + parameters.replaceAll("[^0-9]*([0-9]{3}).*", "$1");
      default -> parameters;
    };
  }

  /** {@return the kind of this word} */
  public static Optional<KeyKind> ofWord(String word) {
    return Arrays.stream(values()).filter(kind -> kind.word().equals(word)).findFirst();
  }

  /** {@return whether a public key is of this kind} */
  public boolean isOf(SubjectPublicKeyInfo key) {
    return key.description().equals(title());
  }

  /** {@return whether the running Java can make keys of this kind} */
  public boolean isAvailable() {
    try {
      KeyPairGenerator.getInstance(generator);
      return true;
    } catch (GeneralSecurityException e) {
      return false;
    }
  }

  /**
   * {@return a new key of this kind}
   *
   * @param random where random numbers come from
   * @throws IllegalStateException if it is not available
   */
  public KeyPair generate(SecureRandom random) {
    try {
      KeyPairGenerator pairs = KeyPairGenerator.getInstance(generator);
      switch (generator) {
        case "RSA" ->
            pairs.initialize(
                new RSAKeyGenParameterSpec(Integer.parseInt(parameters), RSAKeyGenParameterSpec.F4),
                random);
        case "EC" -> pairs.initialize(new ECGenParameterSpec(parameters), random);
        default -> pairs.initialize(new NamedParameterSpec(parameters), random);
      }
      return pairs.generateKeyPair();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("the platform can't make a key of kind " + this, e);
    }
  }
}
