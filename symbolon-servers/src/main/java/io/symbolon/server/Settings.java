// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.finding.Finding;
import io.symbolon.server.place.TlsPlace;
import java.nio.file.Path;
import java.util.List;

/**
 * A server's TLS settings as they are.
 *
 * @param installation the server
 * @param places where it speaks TLS, or could
 * @param files the settings files that were read, in the order in which the server reads them
 * @param findings what is to be said of the settings themselves; what the files they name hold is
 *     judged elsewhere
 */
public record Settings(
    Installation installation, List<TlsPlace> places, List<Path> files, List<Finding> findings) {
  /** Copies the lists. */
  public Settings {
    places = List.copyOf(places);
    files = List.copyOf(files);
    findings = List.copyOf(findings);
  }
}
