// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.party.ProtocolVersion;
import io.symbolon.x509.Certificate;
import java.security.AlgorithmConstraints;
import java.security.AlgorithmParameters;
import java.security.CryptoPrimitive;
import java.security.Key;
import java.util.Arrays;
import java.util.Locale;
import java.util.Set;
import javax.net.ssl.SSLParameters;
import org.jspecify.annotations.Nullable;

/**
 * A client that can't verify the signatures of one kind of keys. A server that has a certificate
 * for each of two kinds shows such a client the other one.
 */
enum WithoutKind {
  /** No RSA. */
  RSA("RSA", "_RSA_"),
  /** No ECDSA. */
  EC("ECDSA", "_ECDSA_"),
  /** No Ed25519 and Ed448. */
  EDWARDS("ED", "_ECDSA_");

  private final String signature;
  private final String inSuite;

  WithoutKind(String signature, String inSuite) {
    this.signature = signature;
    this.inSuite = inSuite;
  }

  /** The kind of the key in a certificate. */
  static WithoutKind of(Certificate certificate) {
    String algorithm = certificate.publicKey().description().toUpperCase(Locale.ROOT);
    return algorithm.startsWith("RSA") ? RSA : algorithm.startsWith("ED") ? EDWARDS : EC;
  }

  /** By the names of cipher suites up to TLS 1.2; how certificates are signed is left open. */
  void restrictSuites(SSLParameters parameters) {
    parameters.setProtocols(new String[] {ProtocolVersion.TLS_1_2.platformName()});
    parameters.setCipherSuites(
        Arrays.stream(parameters.getCipherSuites())
            .filter(suite -> !suite.contains(inSuite))
            .toArray(String[]::new));
  }

  /**
   * By the signatures that are offered, as TLS 1.3 does it. The platform applies that to the
   * signatures of certificates as well, so that a server may find none that it can show.
   */
  void restrictSignatures(SSLParameters parameters) {
    parameters.setAlgorithmConstraints(
        new AlgorithmConstraints() {
          @Override
          public boolean permits(
              Set<CryptoPrimitive> primitives,
              String algorithm,
              @Nullable AlgorithmParameters ignored) {
            return !primitives.contains(CryptoPrimitive.SIGNATURE)
                || !isOfKind(algorithm.toUpperCase(Locale.ROOT));
          }

          @Override
          public boolean permits(Set<CryptoPrimitive> primitives, Key key) {
            return true;
          }

          @Override
          public boolean permits(
              Set<CryptoPrimitive> primitives,
              String algorithm,
              Key key,
              @Nullable AlgorithmParameters parameters) {
            return permits(primitives, algorithm, parameters);
          }
        });
  }

  private boolean isOfKind(String algorithm) {
    return this == EDWARDS ? algorithm.startsWith(signature) : algorithm.contains(signature);
  }
}
