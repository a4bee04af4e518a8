// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.util.Collection;
import java.util.List;

/** A certificate. */
public record CertificateDocument(
    @JsonPropertyDescription("The fingerprint, SHA-256 in hexadecimal.") String sha256,
    @JsonPropertyDescription("The fingerprint of the public key, SHA-256 in hexadecimal.")
        String keyId,
    String subject,
    String issuer,
    @JsonPropertyDescription("The serial number in hexadecimal.") String serial,
    String notBefore,
    String notAfter,
    @JsonPropertyDescription("The host names and IP addresses it is for.") List<String> hosts,
    @JsonPropertyDescription("The kind of the public key.") String algorithm) {
  /** The fields of a certificate. */
  public static CertificateDocument of(Certificate certificate) {
    return new CertificateDocument(
        certificate.sha256(),
        certificate.keyId(),
        certificate.subject().toString(),
        certificate.issuer().toString(),
        certificate.serialHex(),
        certificate.notBefore().toString(),
        certificate.notAfter().toString(),
        hosts(certificate.alternativeNames()),
        certificate.publicKey().description());
  }

  /** Certificates, in their order. */
  public static List<CertificateDocument> all(Collection<Certificate> certificates) {
    return certificates.stream().map(CertificateDocument::of).toList();
  }

  /** The hosts among names. */
  public static List<String> hosts(Collection<GeneralName> names) {
    return names.stream().filter(GeneralName::isHost).map(GeneralName::value).toList();
  }
}
