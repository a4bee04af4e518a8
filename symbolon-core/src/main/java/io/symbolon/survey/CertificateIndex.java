// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The certificates that an issuer has signed for somebody else, by their key and their subject. */
final class CertificateIndex {
  private final Map<String, List<Certificate>> byKey = new HashMap<>();
  private final Map<DistinguishedName, List<Certificate>> bySubject = new HashMap<>();

  CertificateIndex(Collection<Certificate> certificates) {
    for (Certificate certificate : certificates) {
      if (!certificate.isSelfSigned()) {
        byKey.computeIfAbsent(certificate.keyId(), key -> new ArrayList<>()).add(certificate);
        bySubject
            .computeIfAbsent(certificate.subject(), name -> new ArrayList<>())
            .add(certificate);
      }
    }
  }

  List<Certificate> ofKey(String keyId) {
    return byKey.getOrDefault(keyId, List.of());
  }

  List<Certificate> ofSubject(DistinguishedName subject) {
    return bySubject.getOrDefault(subject, List.of());
  }
}
