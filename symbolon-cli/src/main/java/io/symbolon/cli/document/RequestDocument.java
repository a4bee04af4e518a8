// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;
import java.util.Optional;

/** The document of request. */
public record RequestDocument(
    String command,
    @JsonPropertyDescription("True where a problem kept it from being written.")
        Optional<Boolean> failed,
    AskedFor request,
    @JsonPropertyDescription("The file of a new private key.") Optional<KeyFile> key,
    @JsonPropertyDescription("The command that takes the reply; FILE stands for its file.")
        Optional<String> next,
    List<FindingDocument> findings) {
  /** What is asked for. */
  public record AskedFor(
      Optional<String> path,
      Optional<String> format,
      Optional<String> sha256,
      String keyId,
      String subject,
      List<String> hosts,
      List<String> names,
      @JsonProperty("for") String use,
      String algorithm,
      @JsonPropertyDescription("The request in PEM, to paste into an order form.")
          Optional<String> pem) {}

  /** Where the new private key lies. */
  public record KeyFile(@JsonUnwrapped WrittenDocument written, String alias) {}
}
