// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.PemText;
import io.symbolon.chain.Credential;
import io.symbolon.configure.FileDiff;
import io.symbolon.configure.ServerChange;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.Wish;
import io.symbolon.task.TaskRun;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.NamedFiles;
import io.symbolon.task.configure.PlannedChange;
import io.symbolon.task.undo.UndoJob;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
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
    ConfigureJob nginx = ConfigureJob.of(Servers.named("nginx").orElseThrow()).at(folder);
    TaskRun task = TaskRun.open();
    out.println("now: " + nginx.read(task).places().get(0).place().mode().word());

    // Say what is wanted, and look at it.
    Wish wish =
        Wish.of()
            .withMode(Mode.MUTUAL)
            .withHosts(List.of(HOST))
            .withPort(8443)
            .withFolder(folder.resolve("tls"));
    NamedFiles files =
        NamedFiles.of(saved(folder, "ingest.pem", server))
            .trusting(saved(folder, root))
            .rehearsing(saved(folder, "buoy-017.pem", buoy));
    try (PlannedChange planned = nginx.with(files).wishing(wish).plan(task)) {
      show(folder, planned, out);

      // Make it. With apply(true) the running server takes it and is asked; here none runs.
      out.println("then: " + planned.apply(false).result().orElseThrow().end());
    }
    out.println("now: " + nginx.read(task).places().get(0).place().mode().word());

    // And back.
    UndoJob.bringBack(List.of(folder)).run(task);
    out.println("as before: " + Files.readString(main).equals(before));
    task.close();
  }

  private static void show(Path folder, PlannedChange planned, PrintStream out) {
    for (Finding finding : planned.findings()) {
      out.println(finding.level() + ": " + finding.statement());
    }
    ServerChange change = planned.change();
    change
        .rehearsed()
        .forEach(one -> out.println(one.client() + (one.accepted() ? " gets in" : " is refused")));
    for (FileChange file : change.files()) {
      out.println(folder.relativize(file.path()) + ": " + file.holds());
      if (file.settings()) {
        FileDiff.lines(file).forEach(out::println);
      }
    }
  }

  private static Path saved(Path folder, String name, Credential credential) {
    String certificate = PemText.certificates(List.of(credential.certificate()));
    ByteArrayOutputStream both = new ByteArrayOutputStream();
    both.writeBytes(PemText.openKey(credential));
    both.writeBytes(certificate.getBytes(StandardCharsets.US_ASCII));
    Path file = folder.resolve(name);
    SafeFile.write(file, both.toByteArray(), Privacy.OWNER_ONLY, Existing.KEEP);
    return file;
  }

  private static Path saved(Path folder, Authority authority) throws IOException {
    return Files.writeString(
        folder.resolve("root.pem"), PemText.certificates(List.of(authority.certificate())));
  }
}
