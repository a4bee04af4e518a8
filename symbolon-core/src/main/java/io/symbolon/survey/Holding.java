package io.symbolon.survey;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.RevocationList;
import java.util.Optional;

/** One object found in a file. */
public sealed interface Holding {
  /** Where it was found. */
  Place place();

  /** The alias it has in a store. */
  Optional<String> alias();

  /**
   * A private key.
   *
   * @param key the key, or nothing where no password opened it
   * @param encrypted whether it lies in the file under a password
   * @param form what it is, such as {@code PKCS#8}
   */
  record PrivateKey(
      Place place,
      Optional<String> alias,
      Optional<PrivateKeyInfo> key,
      boolean encrypted,
      String form)
      implements Holding {}

  /** A public key. */
  record PublicKey(Place place, Optional<String> alias, SubjectPublicKeyInfo key)
      implements Holding {}

  /** A certificate. */
  record Cert(Place place, Optional<String> alias, Certificate certificate) implements Holding {}

  /** A certificate signing request. */
  record Request(Place place, Optional<String> alias, CertificateRequest request)
      implements Holding {}

  /** A revocation list. */
  record Crl(Place place, Optional<String> alias, RevocationList list) implements Holding {}

  /** A secret key, which is listed and never opened. */
  record SecretKey(Place place, Optional<String> alias) implements Holding {}
}
