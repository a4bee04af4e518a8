// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.Fit;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import java.security.KeyPair;
import java.util.List;

/**
 * A private key together with its certificates, end-entity first. That the halves fit is proven
 * when it is made.
 */
public final class Credential {
  private final PrivateKeyInfo key;
  private final List<Certificate> chain;
  private final Fit fit;

  private Credential(PrivateKeyInfo key, List<Certificate> chain, Fit fit) {
    this.key = key;
    this.chain = List.copyOf(chain);
    this.fit = fit;
  }

  /**
   * Brings a key and its certificates together.
   *
   * @param key the private key
   * @param chain its certificates, end-entity first, at least one
   * @return the credential
   * @throws SymbolonException if the key does not fit the first certificate
   */
  public static Credential of(PrivateKeyInfo key, List<Certificate> chain) {
    if (chain.isEmpty()) {
      throw new IllegalArgumentException("a credential has at least one certificate");
    }
    Fit fit = Fit.of(key, chain.get(0).publicKey());
    if (fit == Fit.DOES_NOT_FIT) {
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          "The private key and the certificate can't be joined.",
          "What the key signs, the certificate of "
              + chain.get(0).subject().shortText()
              + " does not verify.",
          "Look for the key that the certificate was requested with, or ask for a new certificate.");
    }
    // What was proven may be written down: see PrivateKeyInfo.withPublicPoint.
    PrivateKeyInfo whole = fit == Fit.FITS ? key.withPublicPoint(chain.get(0).publicKey()) : key;
    return new Credential(whole, chain, fit);
  }

  /**
   * Brings a pair that the platform has just made together with its certificates. That its halves
   * fit is the platform's doing; checked is that the certificate carries this public half.
   *
   * @param chain the certificates, end-entity first
   * @return the credential
   */
  public static Credential ofPair(KeyPair pair, List<Certificate> chain) {
    if (!chain.get(0).publicKey().equals(SubjectPublicKeyInfo.of(pair.getPublic()))) {
      throw new IllegalArgumentException("the certificate is for another key");
    }
    return new Credential(PrivateKeyInfo.of(pair), chain, Fit.FITS);
  }

  /** {@return the private key} */
  public PrivateKeyInfo key() {
    return key;
  }

  /** {@return the certificates, end-entity first} */
  public List<Certificate> chain() {
    return chain;
  }

  /**
   * The same without the root, which whoever trusts it has; a certificate that stands alone stays.
   *
   * @return the credential that is sent in a handshake
   */
  public Credential withoutRoot() {
    List<Certificate> sent =
        chain.stream()
            .filter(certificate -> certificate.equals(chain.get(0)) || !certificate.isSelfSigned())
            .toList();
    return new Credential(key, sent, fit);
  }

  /** {@return the certificate of the key} */
  public Certificate certificate() {
    return chain.get(0);
  }

  /**
   * {@link Fit#FITS}, or {@link Fit#NOT_CHECKED} where the running Java lacks the algorithm.
   *
   * @return the fit
   */
  public Fit fit() {
    return fit;
  }

  @Override
  public String toString() {
    return "Credential(" + certificate().subject() + ")";
  }
}
