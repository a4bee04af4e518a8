// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.RevocationList;
import java.util.Optional;

/** One object found in a file. */
public sealed interface Holding {
  /** {@return where it was found} */
  Place place();

  /** {@return what is said of it there} */
  Labels labels();

  /** {@return the alias it has in a store} */
  default Optional<String> alias() {
    return labels().alias();
  }

  /**
   * A private key.
   *
   * @param key the key, or nothing where no password opened it
   * @param opener the password that opened it
   * @param encrypted whether it lies in the file under a password
   * @param form what it is, such as {@code PKCS#8}
   */
  record PrivateKey(
      Place place,
      Labels labels,
      Optional<PrivateKeyInfo> key,
      Optional<Secret> opener,
      boolean encrypted,
      String form)
      implements Holding {}

  /** A public key. */
  record PublicKey(Place place, Labels labels, SubjectPublicKeyInfo key) implements Holding {}

  /** A certificate. */
  record Cert(Place place, Labels labels, Certificate certificate) implements Holding {}

  /** A certificate signing request. */
  record Request(Place place, Labels labels, CertificateRequest request) implements Holding {}

  /** A revocation list. */
  record Crl(Place place, Labels labels, RevocationList list) implements Holding {}

  /** A secret key, which is listed and never opened. */
  record SecretKey(Place place, Labels labels) implements Holding {}
}
