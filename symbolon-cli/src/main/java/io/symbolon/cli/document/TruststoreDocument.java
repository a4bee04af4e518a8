// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;
import java.util.Optional;

/** The document of truststore. */
public record TruststoreDocument(
    String command, WrittenTruststore truststore, List<FindingDocument> findings) {
  /** The truststore. */
  public record WrittenTruststore(
      String path,
      String format,
      @JsonPropertyDescription("The files that were written; absent where nothing had to be.")
          Optional<List<WrittenDocument.WrittenFile>> files,
      @JsonPropertyDescription("How it is sealed.") Optional<WrittenDocument.Sealed> sealed,
      @JsonPropertyDescription("How many certificates were not in it before.") int added,
      List<TrustedEntry> entries) {}

  /** A certificate that is trusted. */
  public record TrustedEntry(String alias, @JsonUnwrapped CertificateDocument certificate) {}
}
