// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.finding.Finding;
import io.symbolon.probe.AddressSeen;
import io.symbolon.probe.ProbeReport;
import io.symbolon.probe.Stapled;
import io.symbolon.probe.VersionTaken;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** The document of probe. */
public record ProbeDocument(
    String command,
    String address,
    String host,
    @JsonPropertyDescription("Whether the handshake came to its end.") boolean handshake,
    Optional<String> protocol,
    Optional<String> cipherSuite,
    @JsonPropertyDescription("Whether the chain is trusted: yes, no or not-checked.")
        String trusted,
    @JsonPropertyDescription("Whether the certificate covers the host: yes, no or not-checked.")
        String hostCovered,
    boolean clientCertificateAsked,
    @JsonPropertyDescription("The authorities that clients' certificates may come from.")
        List<String> authoritiesNamed,
    @JsonPropertyDescription("The certificates that the server sent, in its order.")
        List<CertificateDocument> chain,
    @JsonPropertyDescription(
            "What it sends to clients that can't use the first of these; empty where it has no other.")
        List<CertificateDocument> otherChain,
    Optional<StapledStatus> stapledStatus,
    List<Version> versions,
    List<Address> addresses,
    @JsonPropertyDescription("Where the certificates were written.") Optional<String> saved,
    List<FindingDocument> findings) {
  /** The status that the server sent along with its certificate. */
  public record StapledStatus(
      Optional<String> status, Optional<String> thisUpdate, Optional<String> nextUpdate) {
    private static StapledStatus of(Stapled stapled) {
      return new StapledStatus(
          stapled.status().map(Words::of),
          stapled.thisUpdate().map(Object::toString),
          stapled.nextUpdate().map(Object::toString));
    }
  }

  /** A protocol version and what the server does with it. */
  public record Version(
      String version,
      String answer,
      @JsonPropertyDescription("Whether the server prefers its own order of cipher suites.")
          boolean ownOrder,
      List<String> cipherSuites,
      Optional<String> seen) {
    private static Version of(VersionTaken taken) {
      return new Version(
          taken.version().title(),
          Words.of(taken.answer()),
          taken.ownOrder(),
          taken.suites().stream().map(suite -> suite.name()).toList(),
          Optional.of(taken.seen()).filter(seen -> !seen.isEmpty()));
    }
  }

  /** One of the server's addresses. */
  public record Address(
      String ip,
      boolean answers,
      @JsonPropertyDescription("The fingerprint of the certificate it shows.")
          Optional<String> sha256) {
    private static Address of(AddressSeen seen) {
      return new Address(
          seen.ip(), seen.answers(), seen.shown().map(certificate -> certificate.sha256()));
    }
  }

  /**
   * The document of a probe.
   *
   * @param saved where the server's certificates were written
   */
  public static ProbeDocument of(
      ProbeReport report, List<Finding> findings, Optional<Path> saved, CommandText commands) {
    return new ProbeDocument(
        "probe",
        report.address(),
        report.host(),
        report.isHandshakeDone(),
        report.protocol(),
        report.cipherSuite(),
        Words.of(report.trust()),
        Words.of(report.hostCovered()),
        report.clientCertificateAsked(),
        report.authoritiesNamed(),
        CertificateDocument.all(report.sent()),
        CertificateDocument.all(report.otherSent()),
        report.stapled().map(StapledStatus::of),
        report.versions().stream().map(Version::of).toList(),
        report.addresses().stream().map(Address::of).toList(),
        saved.filter(path -> !report.sent().isEmpty()).map(Path::toString),
        FindingDocument.all(findings, commands));
  }
}
