// SPDX-License-Identifier: Apache-2.0
package io.symbolon;

import io.symbolon.chain.Credential;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.KeyForm;
import io.symbolon.pem.PemWriter;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Collection;

/** Certificates and private keys as PEM (RFC 7468). */
public final class PemText {
  private PemText() {}

  /** {@return certificates, in their order} */
  public static String certificates(Collection<Certificate> certificates) {
    StringBuilder text = new StringBuilder();
    for (Certificate certificate : certificates) {
      text.append(
          new String(
              PemWriter.write("CERTIFICATE", certificate.encoding()), StandardCharsets.US_ASCII));
    }
    return text.toString();
  }

  /** {@return the certificates of a credential, end-entity first, without its key} */
  public static String chain(Credential credential) {
    return certificates(credential.chain());
  }

  /**
   * The private key, sealed as PKCS#8 (RFC 5958) with AES-256 and PBKDF2.
   *
   * @param password the password; not kept
   * @return the text in ASCII
   */
  public static byte[] sealedKey(Credential credential, Secret password) {
    Protection protection = Protection.strong(new SecureRandom(), Pkcs12Strength.STRONG.rounds());
    return PemWriter.write(
        "ENCRYPTED PRIVATE KEY",
        EncryptedPrivateKeyInfo.seal(credential.key(), protection, password).encoding());
  }

  /**
   * The private key as it is, in PKCS#8: whoever reads it has the key.
   *
   * @return the text in ASCII; the caller wipes it
   */
  public static byte[] openKey(Credential credential) {
    return openKey(credential, KeyForm.PKCS8);
  }

  /**
   * The private key as it is: whoever reads it has the key.
   *
   * @param form its structure
   * @return the text in ASCII; the caller wipes it
   * @throws io.symbolon.failure.SymbolonException if a key of this kind has no such structure
   */
  public static byte[] openKey(Credential credential, KeyForm form) {
    byte[] key = credential.key().reveal(form);
    try {
      return PemWriter.write(form.label(), key);
    } finally {
      Arrays.fill(key, (byte) 0);
    }
  }
}
