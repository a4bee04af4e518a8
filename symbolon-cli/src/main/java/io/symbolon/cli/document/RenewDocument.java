// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import java.util.List;
import java.util.Optional;

/** The document of renew. */
public record RenewDocument(
    String command,
    @JsonPropertyDescription("The folder of the account, where one was named.")
        Optional<String> account,
    List<RenewedCertificate> certificates,
    List<FindingDocument> findings) {
  /** A certificate of the account, or one that a person signs. */
  public record RenewedCertificate(
      @JsonPropertyDescription("What it is called in the folder, or whose certificate it is.")
          String name,
      @JsonPropertyDescription("Where it lies.") String path,
      @JsonPropertyDescription(
              "renewed, not-due or failed; not-shown where a server that is to show it does not; of one that a person signs: prepared (its request was"
                  + " made just now), waiting (for the reply) or answered (the reply is not yet in"
                  + " use).")
          String outcome,
      @JsonPropertyDescription("Until when the certificate that lies there now is valid.")
          Optional<String> notAfter,
      @JsonPropertyDescription("From when on it is due.") Optional<String> due,
      @JsonPropertyDescription("The file of the request that waits.") Optional<String> request,
      @JsonPropertyDescription("The file in which the new key waits.") Optional<String> keyFile,
      @JsonPropertyDescription("The servers that configure has given it.")
          List<ShowingServer> servers) {}

  /** A server that is to show the certificate. */
  public record ShowingServer(
      String server,
      @JsonPropertyDescription("Which of its sites, connectors or listeners.") String site,
      @JsonPropertyDescription("Where its settings are.") String home,
      @JsonPropertyDescription(
              "shown; given (just now, and seen); not-shown; changed, where somebody gave it"
                  + " another certificate.")
          String state) {}
}
