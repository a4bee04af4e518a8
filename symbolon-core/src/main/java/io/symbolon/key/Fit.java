// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.WorkBudget;
import io.symbolon.oid.Oid;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.spec.AlgorithmParameterSpec;
import java.security.spec.MGF1ParameterSpec;
import java.security.spec.PSSParameterSpec;
import java.util.Arrays;
import java.util.Optional;
import javax.crypto.KeyAgreement;

/**
 * Whether two halves fit. What the halves say of themselves is not enough: the private half has to
 * prove it, by a signature that the public half verifies (or, for keys that only agree on secrets,
 * by agreeing on the same one).
 */
public enum Fit {
  /** The halves belong together. */
  FITS,
  /** The halves do not belong together. */
  DOES_NOT_FIT,
  /** The running Java has no algorithm to try it with. */
  NOT_CHECKED;

  private static final byte[] PROOF = new byte[32];

  /** {@return whether the halves fit, proven by using them} */
  public static Fit of(PrivateKeyInfo privateKey, SubjectPublicKeyInfo publicKey) {
    if (!privateKey.algorithm().oid().equals(publicKey.algorithm().oid())) {
      boolean bothRsa = isRsa(privateKey.algorithm().oid()) && isRsa(publicKey.algorithm().oid());
      if (!bothRsa) {
        return DOES_NOT_FIT;
      }
    }
    Optional<Oid> curve = privateKey.algorithm().curve();
    if (curve.isPresent() && !curve.equals(publicKey.algorithm().curve())) {
      return DOES_NOT_FIT;
    }
    if (PlatformCurves.lack(publicKey)) {
      return NOT_CHECKED;
    }
    try {
      return of(privateKey.toPrivateKey(), publicKey.toPublicKey(), privateKey.algorithm().oid());
    } catch (SymbolonException e) {
      return NOT_CHECKED;
    }
  }

  /**
   * {@return the same within a budget; {@link #NOT_CHECKED} where it is spent}
   *
   * @param budget what signatures may still cost
   */
  public static Fit of(
      PrivateKeyInfo privateKey, SubjectPublicKeyInfo publicKey, WorkBudget budget) {
    return budget.allowsSignature(publicKey.signingCost())
        ? of(privateKey, publicKey)
        : NOT_CHECKED;
  }

  private static boolean isRsa(Oid oid) {
    return oid.equals(Oids.RSA) || oid.equals(Oids.RSA_PSS);
  }

  private static Fit of(PrivateKey privateKey, PublicKey publicKey, Oid algorithm) {
    try {
      if (algorithm.equals(Oids.X25519) || algorithm.equals(Oids.X448)) {
        return agree(privateKey, publicKey, Oids.nameOrDotted(algorithm));
      }
      Signature signature = Signature.getInstance(signatureName(algorithm));
      Optional<AlgorithmParameterSpec> parameters = parameters(algorithm);
      signature.initSign(privateKey);
      if (parameters.isPresent()) {
        signature.setParameter(parameters.get());
      }
      signature.update(PROOF);
      byte[] signed = signature.sign();
      signature.initVerify(publicKey);
      signature.update(PROOF);
      return signature.verify(signed) ? FITS : DOES_NOT_FIT;
    } catch (java.security.SignatureException e) {
      return DOES_NOT_FIT; // a signature of another size is refused before it is looked at
    } catch (GeneralSecurityException e) {
      return NOT_CHECKED;
    }
  }

  private static Fit agree(PrivateKey privateKey, PublicKey publicKey, String name)
      throws GeneralSecurityException {
    KeyPair other = KeyPairGenerator.getInstance(name).generateKeyPair();
    byte[] here = secret(name, privateKey, other.getPublic());
    byte[] there = secret(name, other.getPrivate(), publicKey);
    return Arrays.equals(here, there) ? FITS : DOES_NOT_FIT;
  }

  private static byte[] secret(String name, PrivateKey mine, PublicKey theirs)
      throws GeneralSecurityException {
    KeyAgreement agreement = KeyAgreement.getInstance(name);
    agreement.init(mine);
    agreement.doPhase(theirs, true);
    return agreement.generateSecret();
  }

  private static String signatureName(Oid algorithm) {
    if (algorithm.equals(Oids.RSA)) {
      return "SHA256withRSA";
    }
    if (algorithm.equals(Oids.EC)) {
      return "SHA256withECDSA";
    }
    if (algorithm.equals(Oids.DSA)) {
      return "SHA256withDSA";
    }
    return Oids.nameOrDotted(algorithm); // EdDSA, RSASSA-PSS and ML-DSA sign under their own name
  }

  private static Optional<AlgorithmParameterSpec> parameters(Oid algorithm) {
    return algorithm.equals(Oids.RSA_PSS)
        ? Optional.of(new PSSParameterSpec("SHA-256", "MGF1", MGF1ParameterSpec.SHA256, 32, 1))
        : Optional.empty();
  }
}
