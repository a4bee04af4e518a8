// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.seal.Protection;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.util.Optional;

/** One thing kept in a store (SafeBag of RFC 7292, 4.2), with the labels it carries. */
public sealed interface Bag {
  /** Its alias and local key id. */
  BagLabels labels();

  /**
   * A private key.
   *
   * @param key the key, or nothing where no password opened it
   * @param protection how it is sealed, or nothing where it lies open
   * @param opener the password that opened it
   */
  record Key(
      BagLabels labels,
      Optional<PrivateKeyInfo> key,
      Optional<Protection> protection,
      Optional<io.symbolon.seal.Secret> opener)
      implements Bag {}

  /**
   * A certificate.
   *
   * @param trusted whether it carries Java's mark of a trusted certificate
   */
  record Cert(BagLabels labels, Certificate certificate, boolean trusted) implements Bag {}

  /** A revocation list. */
  record Crl(BagLabels labels, RevocationList list) implements Bag {}

  /**
   * A secret key or another secret; it is listed, never opened.
   *
   * @param type what kind of secret it says it is
   */
  record SecretValue(BagLabels labels, Oid type) implements Bag {}

  /**
   * Something that is not known here or can't be read.
   *
   * @param type its bag type
   * @param why what is wrong with it, a sentence
   */
  record Unknown(BagLabels labels, Oid type, String why) implements Bag {}
}
