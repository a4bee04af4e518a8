// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

/** The structures that hold a private key. */
public enum KeyForm {
  /** PrivateKeyInfo (RFC 5208, 5; RFC 5958, 2): any algorithm. */
  PKCS8("PKCS#8", "PRIVATE KEY"),
  /** RSAPrivateKey (RFC 8017, A.1.2). */
  PKCS1("PKCS#1", "RSA PRIVATE KEY"),
  /** ECPrivateKey (SEC 1, C.4; RFC 5915, 3). */
  SEC1("SEC 1", "EC PRIVATE KEY"),
  /** Six numbers in a row, a form that DSA keys had before PKCS#8; it is read and never written. */
  DSA("six numbers", "DSA PRIVATE KEY");

  private final String title;
  private final String label;

  KeyForm(String title, String label) {
    this.title = title;
    this.label = label;
  }

  /** {@return the name people know it by} */
  public String title() {
    return title;
  }

  /** {@return the label of its PEM block} */
  public String label() {
    return label;
  }
}
