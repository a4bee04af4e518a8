// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;

/** The document of authority sign. */
public record SignDocument(
    String command, SignedCertificate certificate, List<FindingDocument> findings) {
  /** The certificate and where it went. */
  public record SignedCertificate(
      @JsonUnwrapped CertificateDocument certificate, @JsonUnwrapped WrittenDocument written) {}
}
