// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.finding.Finding;
import io.symbolon.server.Installation;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

/**
 * A server's TLS settings as they are.
 *
 * @param title the server's name as its makers write it
 * @param installation the server
 * @param files the settings files that were read
 * @param places where it speaks TLS, or could
 * @param findings what is to be said of the settings as a whole
 */
public record ServerReport(
    String title,
    Installation installation,
    List<Path> files,
    List<PlaceReport> places,
    List<Finding> findings) {
  /** Copies the lists. */
  public ServerReport {
    files = List.copyOf(files);
    places = List.copyOf(places);
    findings = List.copyOf(findings);
  }

  /** {@return everything that is to be said, the gravest first} */
  public List<Finding> allFindings() {
    return Stream.concat(
            findings.stream(), places.stream().flatMap(place -> place.findings().stream()))
        .distinct()
        .sorted(java.util.Comparator.comparing(Finding::level))
        .toList();
  }
}
