// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.wire.JsonText;
import java.nio.charset.StandardCharsets;
import java.security.PublicKey;
import java.util.Base64;
import java.util.Optional;
import java.util.Set;
import org.jose4j.jwa.AlgorithmConstraints;
import org.jose4j.jwk.JsonWebKey;
import org.jose4j.jwk.PublicJsonWebKey;
import org.jose4j.jws.AlgorithmIdentifiers;
import org.jose4j.jws.JsonWebSignature;
import org.jose4j.lang.JoseException;

/**
 * A signed message (RFC 7515, RFC 8555, 6.2), taken apart; nothing of it counts before its
 * signature is verified.
 */
final class SignedMessage {
  private static final Set<String> MEMBERS = Set.of("protected", "payload", "signature");
  private static final String[] ALGORITHMS = {
    AlgorithmIdentifiers.ECDSA_USING_P256_CURVE_AND_SHA256,
    AlgorithmIdentifiers.ECDSA_USING_P384_CURVE_AND_SHA384,
    AlgorithmIdentifiers.ECDSA_USING_P521_CURVE_AND_SHA512,
    AlgorithmIdentifiers.EDDSA,
    AlgorithmIdentifiers.RSA_USING_SHA256
  };

  private final String compact;
  private final ObjectNode header;
  private final byte[] payload;

  private SignedMessage(String compact, ObjectNode header, byte[] payload) {
    this.compact = compact;
    this.header = header;
    this.payload = payload;
  }

  static SignedMessage read(byte[] body) throws Trouble {
    try {
      return read(JsonText.read(body));
    } catch (JsonText.Malformed e) {
      throw Trouble.malformed("the message: " + e.what());
    }
  }

  static SignedMessage read(ObjectNode json) throws Trouble {
    try {
      for (var members = json.fieldNames(); members.hasNext(); ) {
        if (!MEMBERS.contains(members.next())) {
          throw Trouble.malformed("the message has more than one signature or an open header");
        }
      }
      String head = JsonText.text(json, "protected");
      String content = JsonText.text(json, "payload");
      String signature = JsonText.text(json, "signature");
      ObjectNode header = JsonText.read(decoded(head, "protected"));
      if (header.has("crit") || header.has("b64")) {
        throw Trouble.malformed("the header wants something that is not known here");
      }
      byte[] unused = decoded(signature, "signature");
      return new SignedMessage(
          head + '.' + content + '.' + signature, header, decoded(content, "payload"));
    } catch (JsonText.Malformed e) {
      throw Trouble.malformed("the message: " + e.what());
    }
  }

  /** Base64url without padding, and nothing else (RFC 7515, 2). */
  static byte[] decoded(String text, String name) throws Trouble {
    try {
      byte[] octets = Base64.getUrlDecoder().decode(text);
      if (!text.endsWith("=")
          && Base64.getUrlEncoder().withoutPadding().encodeToString(octets).equals(text)) {
        return octets;
      }
    } catch (IllegalArgumentException e) {
      // told below
    }
    throw Trouble.malformed("'" + name + "' is no base64url");
  }

  Optional<String> header(String name) throws Trouble {
    try {
      return JsonText.find(header, name);
    } catch (JsonText.Malformed e) {
      throw Trouble.malformed("the header: " + e.what());
    }
  }

  byte[] payload() {
    return payload;
  }

  /** The content as an object. */
  ObjectNode content() throws Trouble {
    try {
      return JsonText.read(payload);
    } catch (JsonText.Malformed e) {
      throw Trouble.malformed("the content: " + e.what());
    }
  }

  boolean hasKey() {
    return header.has("jwk");
  }

  /** The public key that the message itself names. */
  PublicJsonWebKey key() throws Trouble {
    JsonNode jwk = header.path("jwk");
    return key(new String(JsonText.write(jwk), StandardCharsets.UTF_8));
  }

  static PublicJsonWebKey key(String jwk) throws Trouble {
    try {
      JsonWebKey key = JsonWebKey.Factory.newJwk(jwk);
      if (key instanceof PublicJsonWebKey one
          && one.getPrivateKey() == null
          && !JsonText.read(jwk.getBytes(StandardCharsets.UTF_8)).has("d")) {
        return one;
      }
    } catch (JoseException | JsonText.Malformed | RuntimeException e) {
      // told below
    }
    throw new Trouble(ProblemType.BAD_PUBLIC_KEY, "it is no public key that is known here");
  }

  static String thumbprint(PublicJsonWebKey key) {
    return key.calculateBase64urlEncodedThumbprint("SHA-256");
  }

  /** Verifies the signature, by an algorithm with a public key and no other. */
  void verify(PublicKey key) throws Trouble {
    String algorithm = header("alg").orElse("");
    if (!Set.of(ALGORITHMS).contains(algorithm)) {
      throw new Trouble(
          ProblemType.BAD_SIGNATURE_ALGORITHM,
          "taken are " + String.join(", ", ALGORITHMS) + ", and not this one");
    }
    try {
      JsonWebSignature signature = new JsonWebSignature();
      signature.setAlgorithmConstraints(
          new AlgorithmConstraints(AlgorithmConstraints.ConstraintType.PERMIT, ALGORITHMS));
      signature.setCompactSerialization(compact);
      signature.setKey(key);
      if (signature.verifySignature()) {
        return;
      }
    } catch (JoseException | RuntimeException e) {
      // a signature that can't be verified is none
    }
    throw Trouble.malformed("the signature does not verify");
  }

  /** Verifies the signature of a key that both sides know (RFC 8555, 7.3.4). */
  void verifyShared(byte[] key) throws Trouble {
    try {
      JsonWebSignature signature = new JsonWebSignature();
      signature.setAlgorithmConstraints(
          new AlgorithmConstraints(
              AlgorithmConstraints.ConstraintType.PERMIT,
              AlgorithmIdentifiers.HMAC_SHA256,
              AlgorithmIdentifiers.HMAC_SHA384,
              AlgorithmIdentifiers.HMAC_SHA512));
      signature.setDoKeyValidation(false);
      signature.setCompactSerialization(compact);
      signature.setKey(new javax.crypto.spec.SecretKeySpec(key, "HmacSHA256"));
      if (signature.verifySignature()) {
        return;
      }
    } catch (JoseException | RuntimeException e) {
      // told below
    }
    throw Trouble.unauthorized("the key that binds the account is another one");
  }
}
