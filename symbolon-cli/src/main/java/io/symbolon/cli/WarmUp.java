// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.cli.session.Session;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/**
 * Runs what commands have in common once, silently, in the run that leaves the class archive
 * behind: what is not loaded then is not in it.
 */
final class WarmUp {
  private WarmUp() {}

  /** Runs commands over a file or folder, and writes into a folder that is removed again. */
  static void run(Session session, String file) {
    PrintStream nowhere =
        new PrintStream(OutputStream.nullOutputStream(), false, StandardCharsets.UTF_8);
    Cli quiet = new Cli(session.withStreams(nowhere, nowhere));
    try {
      Path folder = Files.createTempDirectory("symbolon-");
      try {
        for (List<String> line :
            List.of(
                List.of("survey", "--details", file),
                List.of("survey", "--json", file),
                List.of("convert", file, "--into", folder + "/warm.pem"),
                List.of("convert", file, "--into", folder + "/parts/"),
                List.of(
                    "request",
                    "--host",
                    "warm.example",
                    "--into",
                    folder + "/warm.csr",
                    "--key-into",
                    folder + "/warm.p12",
                    "--seal",
                    "empty"),
                List.of("truststore", file, "--into", folder + "/warm.jks", "--seal", "empty"))) {
          quiet.run(line.toArray(String[]::new));
        }
      } finally {
        remove(folder);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void remove(Path folder) throws IOException {
    try (Stream<Path> files = Files.walk(folder)) {
      for (Path path : files.sorted(Comparator.reverseOrder()).toList()) {
        Files.delete(path);
      }
    }
  }
}
