// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Oids;
import io.symbolon.oid.Oid;
import java.security.GeneralSecurityException;
import java.security.KeyPairGenerator;
import java.security.spec.ECGenParameterSpec;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * The elliptic curves that the running Java computes on. It reads keys on others, such as secp256k1
 * or those of brainpool (RFC 5639), and then fails when they are used: that says nothing of them.
 */
public final class PlatformCurves {
  private static final Map<Oid, Boolean> KNOWN = new ConcurrentHashMap<>();

  private static final int MOST = 200;

  private PlatformCurves() {}

  /** {@return whether keys on a curve can be used here} */
  public static boolean compute(Oid curve) {
    Boolean known = KNOWN.get(curve);
    if (known != null) {
      return known;
    }
    boolean computes = tried(curve);
    if (KNOWN.size() < MOST) { // files may name curves without end
      KNOWN.put(curve, computes);
    }
    return computes;
  }

  private static boolean tried(Oid curve) {
    try {
      KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
      generator.initialize(new ECGenParameterSpec(curve.toString()));
      generator.generateKeyPair();
      return true;
    } catch (GeneralSecurityException | RuntimeException e) {
      return false;
    }
  }

  /**
   * {@return whether a key is on a curve that can't be used here}
   *
   * @param key a public key
   */
  public static boolean lack(SubjectPublicKeyInfo key) {
    return key.algorithm().oid().equals(Oids.EC)
        && key.algorithm().curve().map(curve -> !compute(curve)).orElse(true);
  }
}
