// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.handshake.ServerObserver;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.SSLSession;

/**
 * What one handshake with a running server showed.
 *
 * @param where the server's address
 * @param session what was agreed on, where the handshake came to its end
 * @param observer what was sent on the way
 * @param findings what is to be said of the handshake itself
 */
record ObservedHandshake(
    Connector.Reached reached,
    String where,
    Optional<SSLSession> session,
    ServerObserver observer,
    List<Finding> findings) {
  /** Whether what answers speaks TLS at all. */
  boolean isTls() {
    return session.isPresent()
        || findings.stream()
            .noneMatch(
                finding ->
                    finding.is(FindingKind.NO_TLS)
                        || finding.is(FindingKind.NO_SWITCH_TO_TLS)
                        || finding.is(FindingKind.HANDSHAKE_STALLED));
  }
}
