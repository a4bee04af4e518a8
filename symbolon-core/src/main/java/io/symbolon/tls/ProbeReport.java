package io.symbolon.tls;

import io.symbolon.Finding;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;

/**
 * What a server did in a handshake.
 *
 * @param address the host, port and IP address it was reached at
 * @param host the name that was asked for and checked
 * @param protocol the protocol version, if the handshake came so far
 * @param cipherSuite the cipher suite, if the handshake came so far
 * @param sent the certificates as the server sent them
 * @param trust whether the chain leads to the trust given
 * @param hostCovered whether the certificate covers the host
 * @param clientCertificateAsked whether the server asked for a client's certificate
 * @param authoritiesNamed the authorities that the server named when it asked
 * @param findings what is to be said, the worst first
 */
public record ProbeReport(
    String address,
    String host,
    Optional<String> protocol,
    Optional<String> cipherSuite,
    List<Certificate> sent,
    Check trust,
    Check hostCovered,
    boolean clientCertificateAsked,
    List<String> authoritiesNamed,
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
    authoritiesNamed = List.copyOf(authoritiesNamed);
    findings = List.copyOf(findings);
  }

  /** Whether a handshake was completed. */
  public boolean isHandshakeDone() {
    return protocol.isPresent();
  }
}
