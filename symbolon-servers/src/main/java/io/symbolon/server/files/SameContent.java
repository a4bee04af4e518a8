// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.files;

import io.symbolon.chain.Credential;
import io.symbolon.key.Fit;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.x509.Certificate;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** Whether a file that is there holds already what it is to hold: then it stays as it is. */
public final class SameContent {
  private SameContent() {}

  private static Set<Certificate> certificates(FileSurvey file) {
    Set<Certificate> all = new HashSet<>();
    for (Holding holding : file.holdings()) {
      if (holding instanceof Holding.Cert cert) {
        all.add(cert.certificate());
      }
    }
    return all;
  }

  /**
   * {@return whether a file holds a key with its chain, and no other certificate}
   *
   * @param credential the key with its chain
   */
  public static boolean holds(FileSurvey file, Credential credential) {
    return hasKey(file, credential) && certificates(file).equals(Set.copyOf(credential.chain()));
  }

  /**
   * {@return whether a file holds these certificates alone, and no private key}
   *
   * @param trust the certificates
   */
  public static boolean holds(FileSurvey file, List<Certificate> trust) {
    return file.holdings().stream().noneMatch(Holding.PrivateKey.class::isInstance)
        && certificates(file).equals(Set.copyOf(trust));
  }

  /**
   * {@return whether a file holds a key with its chain, whatever it holds besides}
   *
   * @param credential the key with its chain
   */
  public static boolean includes(FileSurvey file, Credential credential) {
    return hasKey(file, credential) && certificates(file).containsAll(credential.chain());
  }

  private static boolean hasKey(FileSurvey file, Credential credential) {
    return file.holdings().stream()
        .anyMatch(
            holding ->
                holding instanceof Holding.PrivateKey own
                    && own.key()
                        .filter(
                            one -> Fit.of(one, credential.certificate().publicKey()) == Fit.FITS)
                        .isPresent());
  }
}
