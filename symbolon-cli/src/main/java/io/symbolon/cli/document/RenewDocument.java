// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import java.util.List;
import java.util.Optional;

/** The document of renew. */
public record RenewDocument(
    String command,
    @JsonPropertyDescription("The folder of the account.") String account,
    List<RenewedCertificate> certificates,
    List<FindingDocument> findings) {
  /** A certificate of the account. */
  public record RenewedCertificate(
      @JsonPropertyDescription("What it is called in the folder.") String name,
      @JsonPropertyDescription("Where it lies.") String path,
      @JsonPropertyDescription("renewed, not-due or failed.") String outcome,
      @JsonPropertyDescription("Until when the certificate that lies there now is valid.")
          Optional<String> notAfter,
      @JsonPropertyDescription("From when on it is due.") Optional<String> due) {}
}
