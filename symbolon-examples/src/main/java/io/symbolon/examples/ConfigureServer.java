// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.chain.Credential;
import io.symbolon.configure.FileDiff;
import io.symbolon.configure.ServerChange;
import io.symbolon.configure.ServerTls;
import io.symbolon.file.Undo;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Party;
import io.symbolon.server.ClientTrust;
import io.symbolon.server.FileChange;
import io.symbolon.server.Machine;
import io.symbolon.server.Mode;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * Changes the settings of a server to mutual TLS: reads them, sees what would change, rehearses it
 * with a client, makes it, and takes it back.
 */
public final class ConfigureServer {
  private static final HostName HOST = HostName.parse("ingest.lanternfish.example");
  private static final Duration YEAR = Duration.ofDays(365);

  private ConfigureServer() {}

  /** Runs the example in the folder that is named, or in a temporary one. */
  public static void main(String[] arguments) throws IOException {
    Path folder =
        arguments.length > 0 ? Path.of(arguments[0]) : Files.createTempDirectory("symbolon");
    run(folder, System.out);
  }

  static void run(Path folder, PrintStream out) throws IOException {
    SecureRandom random = new SecureRandom();
    Instant now = Instant.now();
    Authority root =
        Authority.root(
            DistinguishedName.parse("CN=Example Root"), KeyKind.EC_P256, now, YEAR, random);
    Credential server =
        root.issue(
            DistinguishedName.parse("CN=" + HOST),
            KeyKind.EC_P256,
            List.of(HOST),
            Use.SERVER,
            now,
            YEAR);
    Credential buoy =
        root.issue(
            DistinguishedName.parse("CN=buoy-017"),
            KeyKind.EC_P256,
            List.of(),
            Use.CLIENT,
            now,
            YEAR);
    Path main =
        Files.writeString(
            folder.resolve("nginx.conf"),
            """
            events {}
            http {
              # the buoys come here
              server {
                listen 127.0.0.1:8443;
                server_name ingest.lanternfish.example;
              }
            }
            """);
    String before = Files.readString(main);

    // Read what is there.
    Machine machine = Machine.here();
    Server nginx = Servers.named("nginx").orElseThrow();
    ServerTls tls =
        ServerTls.of(
            nginx, machine, nginx.at(machine, folder), Surveyor.create(), Clock.systemUTC());
    out.println("now: " + tls.read().places().get(0).place().mode().word());

    // Say what is wanted, and look at it.
    ClientTrust trust = new ClientTrust(List.of(root.certificate()), List.of());
    Wish wish =
        Wish.of(server)
            .withClients(Mode.MUTUAL, trust)
            .withHosts(List.of(HOST))
            .withPort(8443)
            .withFolder(folder.resolve("tls"));
    Party client = Party.of("buoy-017", "", buoy).withTrust(List.of(root.certificate()));
    ServerChange change = tls.plan(wish, List.of(client));
    for (Finding finding : change.findings()) {
      out.println(finding.level() + ": " + finding.statement());
    }
    change
        .rehearsed()
        .forEach(one -> out.println(one.client() + (one.accepted() ? " gets in" : " is refused")));
    for (FileChange file : change.files()) {
      out.println(folder.relativize(file.path()) + ": " + file.holds());
      if (file.settings()) {
        FileDiff.lines(file).forEach(out::println);
      }
    }

    // Make it. With apply(true) the running server takes it and is asked; here none runs.
    out.println("then: " + change.apply(false).end());
    out.println("now: " + tls.read().places().get(0).place().mode().word());

    // And back.
    Undo.bringBack(Undo.replacements(List.of(folder)).get(0));
    out.println("as before: " + Files.readString(main).equals(before));
  }
}
