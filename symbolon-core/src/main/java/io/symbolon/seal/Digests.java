// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.util.Map;

/** The platform's names for the digests and HMACs of password-based protection. */
final class Digests {
  private static final Map<Oid, String> DIGESTS =
      Map.of(
          Oids.MD5, "MD5",
          Oids.SHA1, "SHA-1",
          Oids.SHA224, "SHA-224",
          Oids.SHA256, "SHA-256",
          Oids.SHA384, "SHA-384",
          Oids.SHA512, "SHA-512",
          Oids.SHA512_224, "SHA-512/224",
          Oids.SHA512_256, "SHA-512/256");

  private static final Map<Oid, String> HMACS =
      Map.of(
          Oids.HMAC_SHA1, "HmacSHA1",
          Oids.HMAC_SHA224, "HmacSHA224",
          Oids.HMAC_SHA256, "HmacSHA256",
          Oids.HMAC_SHA384, "HmacSHA384",
          Oids.HMAC_SHA512, "HmacSHA512",
          Oids.HMAC_SHA512_224, "HmacSHA512/224",
          Oids.HMAC_SHA512_256, "HmacSHA512/256");

  private Digests() {}

  static String digest(Oid oid) {
    return known(DIGESTS, oid);
  }

  static String hmac(Oid oid) {
    return known(HMACS, oid);
  }

  /** The plain HMAC over a digest, as the MAC of PKCS#12 takes it. */
  static String hmacOver(String digest) {
    return "Hmac" + digest.replace("SHA-", "SHA");
  }

  private static String known(Map<Oid, String> names, Oid oid) {
    String name = names.get(oid);
    if (name == null) {
      throw Unsupported.scheme(Oids.nameOrDotted(oid));
    }
    return name;
  }

  /** The failure for a scheme that is not known. */
  static final class Unsupported {
    private Unsupported() {}

    static SymbolonException scheme(String name) {
      return new SymbolonException(
          Reason.UNSUPPORTED,
          "What is protected by a password can't be opened.",
          "It is protected with " + name + ", which is not known here.",
          "Ask its sender to protect it with PBES2 and AES-256.");
    }
  }
}
