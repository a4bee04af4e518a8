// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What a server did in a handshake.
 *
 * @param address the host, port and IP address it was reached at
 * @param host the name that was asked for and checked
 * @param protocol the protocol version, if the handshake came so far
 * @param cipherSuite the cipher suite, if the handshake came so far
 * @param sent the certificates as the server sent them
 * @param otherSent what it sends to clients that can't use the first of these, where that is
 *     another chain
 * @param trust whether the chain leads to the trust given
 * @param hostCovered whether the certificate covers the host
 * @param clientCertificateAsked whether the server asked for a client's certificate
 * @param authoritiesNamed the authorities that the server named when it asked
 * @param stapled the status that the server sent along
 * @param versions every protocol version with its cipher suites, the latest first; none where they
 *     were not asked for
 * @param addresses every address of the name
 * @param findings what is to be said, the worst first
 */
public record ProbeReport(
    String address,
    String host,
    Optional<String> protocol,
    Optional<String> cipherSuite,
    List<Certificate> sent,
    List<Certificate> otherSent,
    Check trust,
    Check hostCovered,
    boolean clientCertificateAsked,
    List<String> authoritiesNamed,
    Optional<Stapled> stapled,
    List<VersionTaken> versions,
    List<AddressSeen> addresses,
    List<Finding> findings) {
  /** The outcome of one check. */
  public enum Check {
    /** It was made and passed. */
    PASSED,
    /** It was made and failed. */
    FAILED,
    /** It could not be made. */
    NOT_MADE
  }

  /** Copies the lists. */
  public ProbeReport {
    sent = List.copyOf(sent);
    otherSent = List.copyOf(otherSent);
    authoritiesNamed = List.copyOf(authoritiesNamed);
    versions = List.copyOf(versions);
    addresses = List.copyOf(addresses);
    findings = List.copyOf(findings);
  }

  /** Problems that keep no client away: it is served, and should not be served like that. */
  private static final Set<FindingKind> SERVED_ALL_THE_SAME =
      Set.of(
          FindingKind.BROKEN_PROTOCOL_VERSION,
          FindingKind.BROKEN_CIPHER_SUITE,
          FindingKind.ADDRESSES_DIFFER,
          FindingKind.NOT_AS_EXPECTED,
          FindingKind.TRUST_WITHOUT_ROOT);

  /** {@return whether a client that checks what it should would refuse this server} */
  public boolean isRefused() {
    return findings.stream()
        .anyMatch(
            finding ->
                finding.level() == Level.PROBLEM && !SERVED_ALL_THE_SAME.contains(finding.kind()));
  }

  /** {@return whether a handshake was completed} */
  public boolean isHandshakeDone() {
    return protocol.isPresent();
  }
}
