// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.PlatformCurves;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import java.security.GeneralSecurityException;
import java.security.InvalidKeyException;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.SignatureException;
import java.security.interfaces.ECPrivateKey;
import java.security.interfaces.ECPublicKey;
import java.security.interfaces.RSAPublicKey;
import java.security.spec.MGF1ParameterSpec;
import java.security.spec.PSSParameterSpec;
import java.util.Optional;
import java.util.Set;

/**
 * The algorithm of a signature, with the parameters that RSASSA-PSS has.
 *
 * @param oid the algorithm
 * @param pss the parameters of RSASSA-PSS
 */
public record SignatureAlgorithm(Oid oid, Optional<PSSParameterSpec> pss) {
  private static final Set<Oid> WEAK =
      Set.of(
          Oids.RSA_MD2,
          Oids.RSA_MD5,
          Oids.RSA_SHA1,
          Oids.RSA_SHA1_OIW,
          Oids.ECDSA_SHA1,
          Oids.DSA_SHA1);

  private static final Set<Oid> SIGNING_UNDER_THEIR_OWN_NAME =
      Set.of(Oids.ED25519, Oids.ED448, Oids.ML_DSA_44, Oids.ML_DSA_65, Oids.ML_DSA_87);

  /** The outcome of checking a signature. */
  public enum Validity {
    /** The key made the signature. */
    VALID,
    /** The key did not make the signature. */
    INVALID,
    /** The running Java can't tell. */
    NOT_CHECKED
  }

  /**
   * {@return what an AlgorithmIdentifier says}
   *
   * @param algorithmIdentifier the AlgorithmIdentifier
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  public static SignatureAlgorithm read(Element algorithmIdentifier) {
    Cursor cursor = algorithmIdentifier.cursor(Tags.SEQUENCE);
    Oid oid = cursor.next().oid();
    if (oid.equals(Oids.RSA_PSS)) {
      return new SignatureAlgorithm(
          oid, Optional.of(cursor.hasNext() ? readPss(cursor.next()) : defaultPss()));
    }
    return new SignatureAlgorithm(oid, Optional.empty());
  }

  /**
   * Whether two AlgorithmIdentifiers differ in nothing but a parameter NULL that one leaves out.
   */
  static boolean sameButForNull(Element one, Element other) {
    Cursor first = one.cursor(Tags.SEQUENCE);
    Cursor second = other.cursor(Tags.SEQUENCE);
    boolean same = first.next().oid().equals(second.next().oid());
    for (Cursor parameters : new Cursor[] {first, second}) {
      Optional<Element> parameter = parameters.nextIf(Tags.NULL);
      same &= parameter.filter(nul -> nul.content().length != 0).isEmpty() && !parameters.hasNext();
    }
    return same;
  }

  /** RFC 8017, A.2.3: what is left out is SHA-1 and a salt of 20 octets. */
  private static PSSParameterSpec defaultPss() {
    return new PSSParameterSpec("SHA-1", "MGF1", MGF1ParameterSpec.SHA1, 20, 1);
  }

  private static PSSParameterSpec readPss(Element parameters) {
    Cursor cursor = parameters.cursor(Tags.SEQUENCE);
    String digest = "SHA-1";
    String mask = "SHA-1";
    int salt = 20;
    Optional<Element> hash = cursor.nextIf(Tags.context(0));
    if (hash.isPresent()) {
      digest = Oids.nameOrDotted(hash.get().only().cursor().next().oid());
    }
    Optional<Element> generator = cursor.nextIf(Tags.context(1));
    if (generator.isPresent()) {
      Cursor mgf = generator.get().only().cursor();
      mgf.skip();
      mask = Oids.nameOrDotted(mgf.next().cursor().next().oid());
    }
    Optional<Element> saltLength = cursor.nextIf(Tags.context(2));
    if (saltLength.isPresent()) {
      salt = saltLength.get().only().smallInteger();
      if (salt < 0) {
        throw SymbolonException.malformed("signature algorithm", "Its salt has a negative length.");
      }
    }
    return new PSSParameterSpec(digest, "MGF1", new MGF1ParameterSpec(mask), salt, 1);
  }

  /**
   * {@return the algorithm to sign with, for a private key: SHA-256 for RSA, the digest as large as
   * the curve for EC, and the key's own for EdDSA and ML-DSA}
   *
   * @throws SymbolonException if nothing can be signed with such a key
   */
  public static SignatureAlgorithm forKey(PrivateKey key) {
    Oid oid =
        switch (key.getAlgorithm()) {
          case "RSA" -> Oids.RSA_SHA256;
          case "EC" -> ecdsa(key);
          default -> ownOf(key);
        };
    if (!Set.of("RSA", "EC").contains(key.getAlgorithm())
        && !SIGNING_UNDER_THEIR_OWN_NAME.contains(oid)) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "A key of algorithm " + key.getAlgorithm() + " can't sign certificates here.",
          "Keys of RSA, EC, Ed25519, Ed448 and ML-DSA can.",
          "Use a key of one of these.");
    }
    return new SignatureAlgorithm(oid, Optional.empty());
  }

  private static Oid ownOf(PrivateKey key) {
    try (PrivateKeyInfo info = PrivateKeyInfo.of(key)) {
      return info.algorithm().oid();
    }
  }

  private static Oid ecdsa(PrivateKey key) {
    return ecdsa(key instanceof ECPrivateKey ec ? ec.getParams().getOrder().bitLength() : 256);
  }

  private static Oid ecdsa(int bits) {
    return bits > 384 ? Oids.ECDSA_SHA512 : bits > 256 ? Oids.ECDSA_SHA384 : Oids.ECDSA_SHA256;
  }

  /** The AlgorithmIdentifier in DER: with NULL parameters for RSA (RFC 4055, 5), else without. */
  byte[] encoding() {
    return name().endsWith("withRSA")
        ? Der.sequence(Der.oid(oid), Der.nul())
        : Der.sequence(Der.oid(oid));
  }

  /**
   * Such as {@code SHA256withRSA}, or a dotted identifier.
   *
   * @return the text
   */
  public String name() {
    return Oids.nameOrDotted(oid);
  }

  /** {@return whether its digest can be forged today} */
  public boolean isWeak() {
    return WEAK.contains(oid)
        || pss.filter(parameters -> parameters.getDigestAlgorithm().equals("SHA-1")).isPresent();
  }

  /**
   * Signs {@code content}.
   *
   * @return the octets
   */
  public byte[] sign(byte[] content, PrivateKey key) {
    try {
      Signature signature = Signature.getInstance(name());
      signature.initSign(key);
      signature.update(content);
      return signature.sign();
    } catch (GeneralSecurityException e) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "The signature can't be made.",
          "The platform says: " + e.getMessage() + ".",
          "Use a key of RSA, EC or Ed25519.",
          e);
    }
  }

  /**
   * {@return whether a key made a signature with the algorithm that {@link #forKey} chooses for it}
   *
   * @param signed what is signed
   */
  public static boolean isSigned(byte[] content, byte[] signed, PublicKey key) {
    Oid oid =
        switch (key.getAlgorithm()) {
          case "RSA" -> Oids.RSA_SHA256;
          case "EC" ->
              ecdsa(key instanceof ECPublicKey ec ? ec.getParams().getOrder().bitLength() : 256);
          default -> SubjectPublicKeyInfo.of(key).algorithm().oid();
        };
    return new SignatureAlgorithm(oid, Optional.empty()).verify(content, signed, key)
        == Validity.VALID;
  }

  /** Whether {@code key} made {@code signed} over {@code content}. */
  Validity verify(byte[] content, byte[] signed, PublicKey key) {
    if (key instanceof RSAPublicKey && SubjectPublicKeyInfo.of(key).flaw().isPresent()) {
      return Validity.NOT_CHECKED; // it would prove nothing, or take hours
    }
    try {
      Signature signature = Signature.getInstance(name());
      if (pss.isPresent()) {
        signature.setParameter(pss.get());
      }
      signature.initVerify(key);
      signature.update(content);
      return signature.verify(signed) ? Validity.VALID : Validity.INVALID;
    } catch (SignatureException | InvalidKeyException e) {
      if (key instanceof ECPublicKey && PlatformCurves.lack(SubjectPublicKeyInfo.of(key))) {
        return Validity.NOT_CHECKED;
      }
      return Validity.INVALID; // not even of the right shape, or for a key of another algorithm
    } catch (GeneralSecurityException e) {
      return Validity.NOT_CHECKED;
    }
  }

  @Override
  public String toString() {
    return name();
  }
}
