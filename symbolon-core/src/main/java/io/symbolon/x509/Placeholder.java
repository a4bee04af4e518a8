// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

/**
 * The certificate with which a key waits in a keystore for its real one: signed by the key itself,
 * no authority's, and with a remark that says so. It carries what was asked for.
 */
public final class Placeholder {
  /** The remark (the Netscape comment extension, which people and nobody else read). */
  public static final String COMMENT = "waiting for the reply of an authority";

  private Placeholder() {}

  /** {@return whether a certificate is one} */
  public static boolean is(Certificate certificate) {
    return certificate.isSelfIssued()
        && !certificate.isAuthority()
        && certificate.extensions().comment().filter(COMMENT::equals).isPresent();
  }
}
