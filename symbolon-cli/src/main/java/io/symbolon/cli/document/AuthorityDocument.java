// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;
import java.util.Optional;

/** The document of authority found and authority list. */
public record AuthorityDocument(
    String command, DescribedAuthority authority, List<FindingDocument> findings) {
  /** The authority. */
  public record DescribedAuthority(
      @JsonPropertyDescription("Its folder.") String path,
      List<CertificateDocument> chain,
      @JsonPropertyDescription("Where the certificates are kept that it issued; of list.")
          Optional<String> certificates,
      @JsonPropertyDescription("What it has issued; of list.")
          Optional<List<IssuedCertificate>> issued) {}

  /** A certificate that it issued. */
  public record IssuedCertificate(
      @JsonUnwrapped CertificateDocument certificate,
      @JsonPropertyDescription("valid, expired, revoked and the like.") String standing,
      Optional<String> revokedAt,
      Optional<String> reason) {
    /** An issued certificate with its standing. */
    public static IssuedCertificate of(
        CertificateDocument one,
        Enum<?> standing,
        Optional<String> revokedAt,
        Optional<String> reason) {
      return new IssuedCertificate(one, Words.of(standing), revokedAt, reason);
    }
  }
}
