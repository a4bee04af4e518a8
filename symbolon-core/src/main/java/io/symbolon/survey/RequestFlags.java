// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.x509.BasicConstraints;
import io.symbolon.x509.CertificateRequest;

/** What a request asks for that is seldom meant well. */
public final class RequestFlags {
  private RequestFlags() {}

  /** {@return whether it asks for the right to sign others} */
  public static boolean asksForAuthority(CertificateRequest request) {
    return request.extensions().basicConstraints().filter(BasicConstraints::authority).isPresent();
  }
}
