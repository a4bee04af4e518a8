// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;
import java.util.Optional;

/** The document of order. */
public record OrderDocument(
    String command,
    @JsonPropertyDescription("The address of the authority's directory.") String authority,
    @JsonPropertyDescription("The folder of the account.") String account,
    OrderedCredential credential,
    @JsonPropertyDescription("The server that was told of the new files, if one was named.")
        Optional<ToldServer> server,
    List<FindingDocument> findings) {
  /** The credential that was obtained. */
  public record OrderedCredential(
      @JsonUnwrapped WrittenDocument written,
      String alias,
      List<String> hosts,
      List<CertificateDocument> chain) {}

  /** A server. */
  public record ToldServer(
      String title,
      @JsonPropertyDescription("Whether it has the new files now.") boolean hasThem) {}
}
