// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;

/** The document of join. */
public record JoinDocument(
    String command, JoinedCredential credential, List<FindingDocument> findings) {
  /** The credential that was written. */
  public record JoinedCredential(
      @JsonUnwrapped WrittenDocument written,
      String alias,
      @JsonPropertyDescription("Whether a keystore was completed, all else in it as before.")
          boolean inPlace,
      @JsonPropertyDescription("Whether a signature proved that key and certificate fit.")
          boolean fitProven,
      boolean chainComplete,
      List<CertificateDocument> chain) {}
}
