// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.files;

import io.symbolon.PemText;
import io.symbolon.chain.Credential;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Encoder;
import io.symbolon.convert.SealOptions;
import io.symbolon.entry.StoreEntry;
import io.symbolon.format.Format;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.x509.RevocationList;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The forms in which servers take credentials and trust as PEM. */
public final class PemFiles {
  private PemFiles() {}

  /** {@return a chain, the end-entity certificate first, without the root} */
  public static String chain(Credential credential) {
    return PemText.chain(credential);
  }

  /** {@return a private key, open, in PKCS#8} */
  public static byte[] openKey(Credential credential) {
    return PemText.openKey(credential);
  }

  /** {@return a private key, open, with its chain behind it in the same file} */
  public static byte[] keyWithChain(Credential credential) {
    ByteArrayOutputStream both = new ByteArrayOutputStream();
    both.writeBytes(openKey(credential));
    both.writeBytes(chain(credential).getBytes(StandardCharsets.US_ASCII));
    return both.toByteArray();
  }

  /**
   * {@return certificates of authorities}
   *
   * @param trust whom a server trusts
   */
  public static String certificates(ClientTrust trust) {
    return PemText.certificates(trust.certificates());
  }

  /** {@return revocation lists, one behind the other} */
  public static String lists(List<RevocationList> lists) {
    List<StoreEntry.Crl> entries =
        lists.stream().map(list -> new StoreEntry.Crl(Optional.empty(), list)).toList();
    return new String(
        new Encoder(SealOptions.open(), new SecureRandom()).encode(Bundle.of(entries), Format.PEM),
        StandardCharsets.UTF_8);
  }

  /**
   * {@return what a file of a credential is called where there are several: {@code -rsa}, {@code
   * -ec}; the empty text where there is one}
   *
   * @param count how many there are
   */
  public static String suffix(Credential credential, int count) {
    return count < 2
        ? ""
        : "-"
            + credential
                .certificate()
                .publicKey()
                .algorithm()
                .toString()
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]", "");
  }
}
