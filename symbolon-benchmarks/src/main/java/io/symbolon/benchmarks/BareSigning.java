// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.Signature;
import java.security.spec.ECGenParameterSpec;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/** What the platform alone does for a certificate: a key, a signature. */
final class BareSigning {
  private static final int SIGNED = 400; // octets: a certificate without its signature

  private BareSigning() {}

  static KeyPair pair() throws GeneralSecurityException {
    KeyPairGenerator pairs = KeyPairGenerator.getInstance("EC");
    pairs.initialize(new ECGenParameterSpec("secp256r1"));
    return pairs.generateKeyPair();
  }

  /** A signature over as much as a certificate has, with something of it in there. */
  static byte[] sign(KeyPair by, byte[] about) throws GeneralSecurityException {
    byte[] content = new byte[SIGNED];
    System.arraycopy(about, 0, content, 0, Math.min(about.length, SIGNED));
    Signature signature = Signature.getInstance("SHA256withECDSA");
    signature.initSign(by.getPrivate());
    signature.update(content);
    return signature.sign();
  }

  static void delete(Path folder) throws IOException {
    List<Path> all;
    try (Stream<Path> files = Files.walk(folder)) {
      all = files.sorted(Comparator.reverseOrder()).toList();
    }
    for (Path file : all) {
      Files.delete(file);
    }
  }
}
