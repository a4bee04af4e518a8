// SPDX-License-Identifier: Apache-2.0
package io.symbolon.format;

import static io.symbolon.format.Ability.CHAINS;
import static io.symbolon.format.Ability.CHOSEN_PROTECTION;
import static io.symbolon.format.Ability.CONTAINER;
import static io.symbolon.format.Ability.FOLDERS;
import static io.symbolon.format.Ability.KEYS;
import static io.symbolon.format.Ability.OUTDATED;
import static io.symbolon.format.Ability.READ_FOR_ONE_KEY;
import static io.symbolon.format.Ability.READ_WITH_ONE_PASSWORD;
import static io.symbolon.format.Ability.REQUESTS;
import static io.symbolon.format.Ability.STORE_PASSWORD;
import static io.symbolon.format.Ability.TEXT;
import static io.symbolon.format.Ability.TRUST_MARKS;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** The formats that are read and written. What each can hold is said here and nowhere else. */
public enum Format {
  /** Text with boundary lines (RFC 7468). */
  PEM(
      "pem",
      "PEM",
      Set.of(TEXT, KEYS, READ_FOR_ONE_KEY, CHAINS, REQUESTS, FOLDERS, CHOSEN_PROTECTION),
      ".pem",
      ".crt",
      ".cer",
      ".key",
      ".csr"),
  /** One or more bare structures; one is written. */
  DER("der", "DER", Set.of(KEYS, REQUESTS, FOLDERS, CHOSEN_PROTECTION), ".der"),
  /** A PKCS#12 store (RFC 7292). */
  PKCS12(
      "pkcs12",
      "PKCS#12",
      Set.of(
          KEYS,
          CHAINS,
          CONTAINER,
          STORE_PASSWORD,
          CHOSEN_PROTECTION,
          TRUST_MARKS,
          READ_WITH_ONE_PASSWORD),
      ".p12",
      ".pfx",
      ".pkcs12"),
  /** Java's older keystore. */
  JKS("jks", "JKS", Set.of(KEYS, CHAINS, CONTAINER, STORE_PASSWORD, OUTDATED), ".jks"),
  /** Java's older keystore with 3DES for its keys. */
  JCEKS("jceks", "JCEKS", Set.of(KEYS, CHAINS, CONTAINER, STORE_PASSWORD, OUTDATED), ".jceks"),
  /** A bundle of certificates (RFC 5652), in DER. */
  PKCS7("pkcs7", "PKCS#7", Set.of(CHAINS, CONTAINER), ".p7b", ".p7c"),
  /** The same between boundary lines; files that hold it are read as {@link #PEM}. */
  PKCS7_PEM("pkcs7-pem", "PKCS#7 in PEM", Set.of(CHAINS, TEXT)),
  /** None of these: what a file is in that could not be read. Never written. */
  UNKNOWN("unknown", "unknown", Set.of());

  private final String word;
  private final String title;

  @SuppressWarnings("ImmutableEnumChecker") // made by Set.of
  private final Set<Ability> abilities;

  private final String endings; // separated by spaces

  Format(String word, String title, Set<Ability> abilities, String... endings) {
    this.word = word;
    this.title = title;
    this.abilities = abilities;
    this.endings = String.join(" ", endings);
  }

  /** {@return the word for it, on a command line and in JSON} */
  public String word() {
    return word;
  }

  /** {@return the name people know it by} */
  public String title() {
    return title;
  }

  /** {@return the endings of file names that tell it; the first is given to new files} */
  public List<String> endings() {
    return endings.isEmpty() ? List.of() : List.of(endings.split(" ", -1));
  }

  /** {@return whether it can do something} */
  public boolean can(Ability ability) {
    return abilities.contains(ability);
  }

  /** {@return whether it is a keystore with a password of its own} */
  public boolean isStore() {
    return can(STORE_PASSWORD);
  }

  /** {@return whether it has a place for private keys} */
  public boolean holdsKeys() {
    return can(KEYS);
  }

  /** {@return whether it is known at all} */
  public boolean isKnown() {
    return this != UNKNOWN;
  }

  /** {@return the formats that are written} */
  public static List<Format> written() {
    return Arrays.stream(values()).filter(Format::isKnown).toList();
  }

  /** {@return the format of this word, among those that are written} */
  public static Optional<Format> ofWord(String word) {
    return written().stream().filter(format -> format.word.equals(word)).findFirst();
  }

  /** {@return the format that the ending of a file name tells} */
  public static Optional<Format> ofName(String name) {
    String lower = name.toLowerCase(Locale.ROOT);
    return written().stream()
        .filter(format -> format.endings().stream().anyMatch(lower::endsWith))
        .findFirst();
  }
}
