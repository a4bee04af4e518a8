// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;
import java.util.Optional;

/** The document of authority issue: one credential, or those of a list. */
public record IssueDocument(
    String command,
    @JsonPropertyDescription("The folder of the authority; with --list.") Optional<String> by,
    @JsonPropertyDescription("The one credential.") Optional<IssuedCredential> credential,
    @JsonPropertyDescription("The credentials of a list.")
        Optional<List<ListedCredential>> credentials,
    List<FindingDocument> findings) {
  /** The one credential. */
  public record IssuedCredential(
      @JsonUnwrapped WrittenDocument written, String alias, List<CertificateDocument> chain) {}

  /** One of many. */
  public record ListedCredential(
      String subject,
      String path,
      @JsonPropertyDescription("The file of its password.") Optional<String> password) {}
}
