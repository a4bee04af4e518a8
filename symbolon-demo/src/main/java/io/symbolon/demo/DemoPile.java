// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.chain.Credential;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;

/** The pile of files that an administrator of the Lanternfish Observatory was sent. */
final class DemoPile {
  static final String HOST = "ingest.lanternfish.example";

  private static final String MAIL =
      """
      Hello,

      attached are the key you generated with us last week, our reply to your
      request (reply.cer), and our bundle (bundle.crt). Please install them on
      ingest.lanternfish.example before Friday.

      Certificates Desk, Lanternfish Observatory
      """;

  private DemoPile() {}

  /** Founds the authority, issues the server's certificate, and writes the files as they came. */
  static void write(Path folder, Instant now) {
    SecureRandom random = new SecureRandom();
    Authority root =
        Authority.root(
            name("Lanternfish Root"), KeyKind.EC_P384, now, Duration.ofDays(3650), random);
    Authority issuing =
        root.intermediate(
            name("Lanternfish Issuing A"), KeyKind.EC_P256, now, Duration.ofDays(1825));
    Credential server =
        issuing.issue(
            name(HOST),
            KeyKind.RSA_2048,
            List.of(HostName.parse(HOST), HostName.parse("ingest-2.lanternfish.example")),
            Use.SERVER,
            now,
            Duration.ofDays(397));
    byte[] key = server.key().revealPkcs8();
    write(folder.resolve("ingest_private.txt"), PemWriter.write("PRIVATE KEY", key));
    Arrays.fill(key, (byte) 0);
    // The names mislead, as they do: .cer is DER here, .crt is a whole bundle in an odd order.
    write(folder.resolve("reply.cer"), server.certificate().encoding());
    write(
        folder.resolve("bundle.crt"),
        bundle(root.certificate(), server.certificate(), issuing.certificate()));
    write(folder.resolve("mail.txt"), MAIL.getBytes(StandardCharsets.UTF_8));
  }

  private static DistinguishedName name(String commonName) {
    return DistinguishedName.parse("CN=" + commonName + ",O=Lanternfish Observatory");
  }

  private static byte[] bundle(Certificate... certificates) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (Certificate certificate : certificates) {
      out.writeBytes(("# " + certificate.subject() + "\n").getBytes(StandardCharsets.UTF_8));
      out.writeBytes(PemWriter.write("CERTIFICATE", certificate.encoding()));
    }
    return out.toByteArray();
  }

  private static void write(Path file, byte[] content) {
    SafeFile.write(file, content, Privacy.OWNER_ONLY, Existing.KEEP);
  }
}
