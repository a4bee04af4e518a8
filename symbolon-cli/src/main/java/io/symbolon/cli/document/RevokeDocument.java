// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import java.util.List;

/** The document of authority revoke. */
public record RevokeDocument(
    String command, WrittenList revocationList, List<FindingDocument> findings) {
  /** The revocation list. */
  public record WrittenList(
      String path,
      @JsonPropertyDescription("How many certificates it revokes.") int size,
      @JsonPropertyDescription("When the next one is due.") String nextUpdate,
      @JsonPropertyDescription("The certificates that were revoked now.")
          List<CertificateDocument> revoked) {}
}
