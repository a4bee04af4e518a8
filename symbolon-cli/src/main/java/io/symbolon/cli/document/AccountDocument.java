// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import java.util.List;
import java.util.Optional;

/** The document of order account. */
public record AccountDocument(
    String command,
    @JsonPropertyDescription("The folder of the account.") String account,
    @JsonPropertyDescription("The address of the authority's directory.") String authority,
    @JsonPropertyDescription("The address of the account.") String address,
    @JsonPropertyDescription("The thumbprint of its key (RFC 7638).") String thumbprint,
    @JsonPropertyDescription("shown, changed, given-up or forgotten.") String outcome,
    List<ObtainedCertificate> certificates,
    List<FindingDocument> findings) {
  /** A certificate of the account. */
  public record ObtainedCertificate(
      @JsonPropertyDescription("What it is called in the folder.") String name,
      @JsonPropertyDescription("Where it lies.") String path,
      @JsonPropertyDescription("Until when it is valid; absent before it was obtained.")
          Optional<String> notAfter,
      @JsonPropertyDescription("Whether an order for it is not finished.") boolean ordered,
      @JsonPropertyDescription("The servers that renewals reach.") List<ShowingServer> servers) {}

  /** A server that configure has given the certificate. */
  public record ShowingServer(
      String server,
      @JsonPropertyDescription("Which of its sites, connectors or listeners.") String site,
      @JsonPropertyDescription("Where its settings are.") String home) {}
}
