// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import java.security.SecureRandom;
import java.util.Base64;

/** Names that nobody guesses. */
final class Ids {
  private static final int ID = 16;
  private static final int TOKEN = 32; // at least 128 bits (RFC 8555, 8.1)

  private final SecureRandom random;

  Ids(SecureRandom random) {
    this.random = random;
  }

  String next() {
    return text(ID);
  }

  String token() {
    return text(TOKEN);
  }

  private String text(int octets) {
    byte[] bits = new byte[octets];
    random.nextBytes(bits);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bits);
  }
}
