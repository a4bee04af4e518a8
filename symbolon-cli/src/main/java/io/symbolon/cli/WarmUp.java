// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.PemText;
import io.symbolon.chain.Credential;
import io.symbolon.cli.session.Session;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
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
        server(quiet, folder);
      } finally {
        remove(folder);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** The settings of a server, read with the files that they name, and a change that is shown. */
  private static void server(Cli quiet, Path folder) throws IOException {
    SecureRandom random = new SecureRandom();
    Instant now = Instant.now();
    Duration day = Duration.ofDays(1);
    HostName host = HostName.parse("warm.example");
    DistinguishedName name = DistinguishedName.parse("CN=warm.example");
    Authority root = Authority.root(name, KeyKind.EC_P256, now, day, random);
    Credential own = root.issue(name, KeyKind.EC_P256, List.of(host), Use.SERVER, now, day);
    Path chain = Files.writeString(folder.resolve("chain.pem"), PemText.chain(own));
    Path key = Files.write(folder.resolve("key.pem"), PemText.openKey(own));
    Path trust =
        Files.writeString(
            folder.resolve("root.pem"), PemText.certificates(List.of(root.certificate())));
    Files.writeString(
        folder.resolve("nginx.conf"),
        """
        events {}
        http { server {
          listen 127.0.0.1:8443 ssl;
          server_name warm.example;
          ssl_certificate chain.pem;
          ssl_certificate_key key.pem;
          ssl_client_certificate root.pem;
          ssl_verify_client on;
        } }
        """);
    String home = folder.toString();
    quiet.run(new String[] {"configure", "nginx", "--home", home});
    quiet.run(
        new String[] {
          "configure",
          "nginx",
          "--home",
          home,
          "--credential",
          key.toString(),
          chain.toString(),
          trust.toString(),
          "--host",
          "warm.example",
          "--client-trust",
          trust.toString()
        });
  }

  private static void remove(Path folder) throws IOException {
    try (Stream<Path> files = Files.walk(folder)) {
      for (Path path : files.sorted(Comparator.reverseOrder()).toList()) {
        Files.delete(path);
      }
    }
  }
}
