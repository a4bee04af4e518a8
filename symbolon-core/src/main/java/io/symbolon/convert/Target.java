package io.symbolon.convert;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The formats that are written. */
public enum Target {
  /** Text with boundary lines (RFC 7468). */
  PEM("pem", "PEM", ".pem", ".crt", ".cer", ".key", ".csr"),
  /** One bare structure. */
  DER("der", "DER", ".der"),
  /** A PKCS#12 store (RFC 7292). */
  PKCS12("pkcs12", "PKCS#12", ".p12", ".pfx", ".pkcs12"),
  /** Java's older keystore. */
  JKS("jks", "JKS", ".jks"),
  /** Java's older keystore with 3DES for its keys. */
  JCEKS("jceks", "JCEKS", ".jceks"),
  /** A bundle of certificates (RFC 5652), in DER. */
  PKCS7("pkcs7", "PKCS#7", ".p7b", ".p7c"),
  /** The same between boundary lines. */
  PKCS7_PEM("pkcs7-pem", "PKCS#7 in PEM");

  private final String word;
  private final String title;
  private final String endings; // separated by spaces

  Target(String word, String title, String... endings) {
    this.word = word;
    this.title = title;
    this.endings = String.join(" ", endings);
  }

  /** The word for it on a command line. */
  public String word() {
    return word;
  }

  /** The name people know it by. */
  public String title() {
    return title;
  }

  /** The endings of file names that tell it; the first is given to new files. */
  public List<String> endings() {
    return endings.isEmpty() ? List.of() : List.of(endings.split(" ", -1));
  }

  /** Whether it is a keystore with a password of its own. */
  public boolean isStore() {
    return this == PKCS12 || this == JKS || this == JCEKS;
  }

  /** Whether it has a place for private keys. */
  public boolean holdsKeys() {
    return this != PKCS7 && this != PKCS7_PEM;
  }

  /** The format of this word. */
  public static Optional<Target> ofWord(String word) {
    return Arrays.stream(values()).filter(target -> target.word.equals(word)).findFirst();
  }

  /** The format that the ending of a file name tells. */
  public static Optional<Target> ofName(String name) {
    String lower = name.toLowerCase(Locale.ROOT);
    return Arrays.stream(values())
        .filter(target -> target.endings().stream().anyMatch(lower::endsWith))
        .findFirst();
  }
}
