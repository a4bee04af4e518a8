package io.symbolon.survey;

import java.util.Locale;

/** How the content of a file is encoded. */
public enum Format {
  /** Text with boundary lines. */
  PEM("PEM"),
  /** One or more bare structures. */
  DER("DER"),
  /** A PKCS#12 store. */
  PKCS12("PKCS#12"),
  /** A Java keystore of the older kind. */
  JKS("JKS"),
  /** A Java keystore that can hold secret keys. */
  JCEKS("JCEKS"),
  /** A PKCS#7 bundle. */
  PKCS7("PKCS#7"),
  /** None of these. */
  UNKNOWN("unknown");

  private final String title;

  Format(String title) {
    this.title = title;
  }

  /** The name people know it by. */
  public String title() {
    return title;
  }

  /** The word for it in JSON. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
