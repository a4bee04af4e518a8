// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.finding.Finding;
import io.symbolon.rehearse.OtherServer;
import io.symbolon.rehearse.RehearsalReport;
import io.symbolon.rehearse.RehearsedPairs;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The document of rehearse. */
public record RehearseDocument(
    String command,
    @JsonPropertyDescription("Whether every pair accepts each other.") boolean accepted,
    List<Pair> pairs,
    List<FindingDocument> findings) {
  /** A server and a client. */
  public record Pair(
      String server,
      String client,
      @JsonPropertyDescription(
              "accepted; accepted-by-java-alone, where the findings say who refuses;"
                  + " accepted-in-part, in some protocol versions; refused.")
          String verdict,
      @JsonPropertyDescription("Whether the verdict is accepted.") boolean accepted,
      List<Version> versions,
      @JsonPropertyDescription(
              "What servers of other kinds than Java's would do with the same files; none where"
                  + " Java's own handshake is refused.")
          List<Server> others,
      List<FindingDocument> findings) {}

  /** A server of another kind. */
  public record Server(
      @JsonPropertyDescription("Such as nginx.") String server,
      boolean accepts,
      @JsonPropertyDescription("What it does otherwise, and why.") Optional<String> why,
      @JsonPropertyDescription("The setting that helps.") Optional<String> setting) {
    private static Server of(OtherServer one) {
      return new Server(one.kind().word(), one.accepts(), one.why(), one.setting());
    }
  }

  /** One protocol version. */
  public record Version(
      String protocol,
      @JsonPropertyDescription("Whether the handshake of this Java came to its end.")
          boolean accepted,
      Optional<String> cipherSuite,
      @JsonPropertyDescription("The side that refused: server or client.")
          Optional<String> refusedBy,
      @JsonPropertyDescription("What this Java said of it.") Optional<String> raw) {
    private static Version of(RehearsalReport.Try one) {
      return new Version(
          one.protocol().platformName(),
          one.isAccepted(),
          one.cipherSuite(),
          one.refusedBy().map(Words::of),
          one.refusedBy().map(side -> one.raw()));
    }
  }

  /** The document of rehearsed pairs. */
  public static RehearseDocument of(RehearsedPairs pairs, CommandText commands) {
    Set<Finding> all = new LinkedHashSet<>(pairs.findings());
    pairs.reports().forEach(report -> all.addAll(report.findings()));
    return new RehearseDocument(
        "rehearse",
        pairs.reports().stream().allMatch(RehearsalReport::isAccepted),
        pairs.reports().stream()
            .map(
                report ->
                    new Pair(
                        report.server(),
                        report.client(),
                        Words.of(report.verdict()),
                        report.isAccepted(),
                        report.tries().stream().map(Version::of).toList(),
                        report.others().stream().map(Server::of).toList(),
                        FindingDocument.all(report.findings(), commands)))
            .toList(),
        FindingDocument.all(all, commands));
  }
}
