// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.PemText;
import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.task.GivenPassword;
import io.symbolon.task.TaskRun;
import io.symbolon.task.join.JoinJob;
import io.symbolon.task.join.JoinReport;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * Joining a pile of files into a keystore. Run it with a folder that holds a private key, its
 * certificate and the authority's certificates, and the keystore to write; without arguments it
 * makes a pile of its own in a temporary folder.
 */
public final class JoinPile {
  private JoinPile() {}

  /** Joins the pile in the first argument into the keystore in the second. */
  public static void main(String[] arguments) throws IOException {
    Path pile = arguments.length > 0 ? Path.of(arguments[0]) : makePile();
    Path keystore = arguments.length > 1 ? Path.of(arguments[1]) : pile.resolve("ingest.p12");
    // A program takes the password from its own configuration; here it is made up.
    try (Secret password = Secret.of("only-for-the-example".toCharArray(), "the example")) {
      JoinReport report = join(pile, keystore, password);
      System.out.println("joined " + report.alias() + " into " + keystore);
      report.joined().credential().chain().forEach(c -> System.out.println("  " + c.subject()));
    } catch (SymbolonException e) {
      System.out.println(e.statement());
      System.out.println(e.seen());
      System.out.println(e.remedy().advice());
      System.exit(1);
    }
  }

  /** The whole job: read whatever is there, join it, prove it, write it owner-only. */
  static JoinReport join(Path pile, Path keystore, Secret password) {
    try (TaskRun run = TaskRun.open()) {
      JoinReport report =
          JoinJob.of(pile).into(keystore, new GivenPassword(password)).build().run(run);
      for (Finding finding : report.findings()) {
        System.out.println(finding.level().word() + ": " + finding.statement());
      }
      return report;
    }
  }

  static Path makePile() throws IOException {
    SecureRandom random = new SecureRandom();
    Instant now = Instant.now();
    Authority root =
        Authority.root(
            DistinguishedName.parse("CN=Lanternfish Root,O=Lanternfish Observatory"),
            KeyKind.EC_P256,
            now,
            Duration.ofDays(3650),
            random);
    Credential server =
        root.issue(
            DistinguishedName.parse("CN=ingest.lanternfish.example,O=Lanternfish Observatory"),
            KeyKind.EC_P256,
            List.of(HostName.parse("ingest.lanternfish.example")),
            Use.SERVER,
            now,
            Duration.ofDays(90));
    Path folder = Files.createTempDirectory("lanternfish");
    byte[] key = PemText.openKey(server);
    SafeFile.write(folder.resolve("key.pem"), key, Privacy.OWNER_ONLY, Existing.KEEP);
    Files.write(folder.resolve("reply.cer"), server.certificate().encoding());
    Files.write(folder.resolve("root.crt"), root.certificate().encoding());
    return folder;
  }
}
