// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.seal.Secret;
import java.util.Base64;

/**
 * What binds an account to one that an authority knows from elsewhere (RFC 8555, 7.3.4).
 *
 * @param keyId the name of the key that both sides know
 * @param key that key in base64url, as the authority hands it out
 */
public record ExternalAccount(String keyId, Secret key) {
  /** The octets of the key. */
  byte[] octets() {
    try {
      return Base64.getUrlDecoder()
          .decode(
              new String(key.reveal())
                  .strip()
                  .replace("=", "")
                  .replace('+', '-')
                  .replace('/', '_'));
    } catch (IllegalArgumentException e) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The account was not made.",
          "The key that binds it to an account of the authority is not base64url.",
          "Copy it again, with all its characters.");
    }
  }
}
