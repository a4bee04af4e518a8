// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.finding.Finding;
import java.util.List;

/**
 * Handshakes of a client with the files that a server would have.
 *
 * @param client the name of the client
 * @param accepted whether both sides accept each other, in this Java and on this kind of server
 * @param findings why not
 */
public record RehearsedClient(String client, boolean accepted, List<Finding> findings) {
  /** Copies the findings. */
  public RehearsedClient {
    findings = List.copyOf(findings);
  }
}
