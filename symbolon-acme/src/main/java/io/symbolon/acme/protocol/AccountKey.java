// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.protocol;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.security.PublicKey;
import java.security.interfaces.ECPublicKey;
import java.security.interfaces.RSAPublicKey;
import java.util.Optional;
import javax.crypto.spec.SecretKeySpec;
import org.jose4j.jwk.JsonWebKey;
import org.jose4j.jws.AlgorithmIdentifiers;
import org.jose4j.jws.JsonWebSignature;
import org.jose4j.lang.JoseException;

/** The key of an account, and what is signed with it (RFC 7515, RFC 8555, 6.2). Immutable. */
public final class AccountKey {
  private final KeyPair pair;
  private final JsonWebKey jwk;
  private final String algorithm;

  private AccountKey(KeyPair pair, JsonWebKey jwk, String algorithm) {
    this.pair = pair;
    this.jwk = jwk;
    this.algorithm = algorithm;
  }

  /**
   * {@return the key}
   *
   * @param pair the key: RSA, or a curve of NIST, or Ed25519
   * @throws SymbolonException if the protocol has no signatures of it
   */
  public static AccountKey of(KeyPair pair) {
    try {
      return new AccountKey(
          pair, JsonWebKey.Factory.newJwk(pair.getPublic()), algorithm(pair.getPublic()));
    } catch (JoseException e) {
      throw unusable(pair.getPublic());
    }
  }

  private static SymbolonException unusable(PublicKey key) {
    return new SymbolonException(
        Reason.UNSUPPORTED,
        "The key can't be the key of an account.",
        "It is a key of " + key.getAlgorithm() + ", with which nobody signs in this protocol.",
        "Use a key on P-256.");
  }

  private static String algorithm(PublicKey key) {
    if (key instanceof RSAPublicKey) {
      return AlgorithmIdentifiers.RSA_USING_SHA256;
    }
    if (key instanceof ECPublicKey ec) {
      return switch (ec.getParams().getOrder().bitLength()) {
        case 256 -> AlgorithmIdentifiers.ECDSA_USING_P256_CURVE_AND_SHA256;
        case 384 -> AlgorithmIdentifiers.ECDSA_USING_P384_CURVE_AND_SHA384;
        case 521 -> AlgorithmIdentifiers.ECDSA_USING_P521_CURVE_AND_SHA512;
        default -> throw unusable(key);
      };
    }
    if (key.getAlgorithm().equals("EdDSA") || key.getAlgorithm().equals("Ed25519")) {
      return AlgorithmIdentifiers.EDDSA;
    }
    throw unusable(key);
  }

  /** {@return the public key as JSON (RFC 7517)} */
  public String publicJson() {
    return jwk.toJson(JsonWebKey.OutputControlLevel.PUBLIC_ONLY);
  }

  /** {@return the thumbprint of the public key (RFC 7638), by which proofs name the account} */
  public String thumbprint() {
    return thumbprint(jwk);
  }

  static String thumbprint(JsonWebKey key) {
    return key.calculateBase64urlEncodedThumbprint("SHA-256");
  }

  /**
   * {@return what a challenge wants to see: its token with the thumbprint (RFC 8555, 8.1)}
   *
   * @param token the token of the challenge
   */
  public String authorizationOf(String token) {
    return token + '.' + thumbprint();
  }

  /**
   * {@return a message that is signed with this key, as flattened JSON (RFC 7515, 7.2.2)}
   *
   * @param url the address that it is sent to
   * @param nonce the nonce; none for a message inside another
   * @param account the address of the account; none where the key itself says who it is
   * @param payload the content; empty where something is only asked for
   */
  public String sign(URI url, Optional<String> nonce, Optional<URI> account, byte[] payload) {
    JsonWebSignature signature = new JsonWebSignature();
    signature.setAlgorithmHeaderValue(algorithm);
    signature.setKey(pair.getPrivate());
    if (account.isPresent()) {
      signature.setKeyIdHeaderValue(account.get().toString());
    } else {
      signature.getHeaders().setJwkHeaderValue("jwk", jwk);
    }
    return signed(signature, url, nonce, payload);
  }

  /**
   * {@return this key as an authority's other books know it (RFC 8555, 7.3.4)}
   *
   * @param url the address that the account is asked for at
   * @param keyId the name of the other key
   * @param key the other key, which both sides know
   */
  public String boundTo(URI url, String keyId, byte[] key) {
    JsonWebSignature signature = new JsonWebSignature();
    signature.setAlgorithmHeaderValue(AlgorithmIdentifiers.HMAC_SHA256);
    signature.setKey(new SecretKeySpec(key, "HmacSHA256"));
    signature.setKeyIdHeaderValue(keyId);
    signature.setDoKeyValidation(false); // how long that key is, is the authority's choice
    return signed(signature, url, Optional.empty(), publicJson().getBytes(StandardCharsets.UTF_8));
  }

  private static String signed(
      JsonWebSignature signature, URI url, Optional<String> nonce, byte[] payload) {
    nonce.ifPresent(one -> signature.setHeader("nonce", one));
    signature.setHeader("url", url.toString());
    signature.setPayloadBytes(payload);
    try {
      String[] parts = signature.getCompactSerialization().split("\\.", -1);
      // Each part is in base64url, which has nothing to escape.
      return "{\"protected\":\""
          + parts[0]
          + "\",\"payload\":\""
          + parts[1]
          + "\",\"signature\":\""
          + parts[2]
          + "\"}";
    } catch (JoseException e) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "The message to the authority was not signed.",
          "The key of the account does not sign: " + e.getMessage(),
          "Use a key on P-256 for the account.",
          e);
    }
  }
}
