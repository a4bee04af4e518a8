// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.fixture.Lanternfish;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Deliveries as they come: a mail that was saved, with what is attached to it. */
class SavedMailTest {
  private static final String HEAD =
      """
      From: desk@tidewater.example
      To: ops@lanternfish.example
      Subject: Your certificate
      Date: Thu, 26 Nov 2026 05:00:00 +0000
      MIME-Version: 1.0
      """;

  @TempDir Path temp;

  private static String text(byte[] octets) {
    return new String(octets, StandardCharsets.US_ASCII);
  }

  private static String attached(String disposition, byte[] content) {
    return "--part\nContent-Type: application/octet-stream\nContent-Transfer-Encoding: base64\n"
        + "Content-Disposition: attachment; "
        + disposition
        + "\n\n"
        + text(Base64.getMimeEncoder().encode(content))
        + "\n";
  }

  private static String mail(String... parts) {
    return HEAD
        + "Content-Type: multipart/mixed; boundary=part\n\n--part\n\nHello, here it is.\n"
        + String.join("", parts)
        + "--part--\n";
  }

  private static byte[] zip(String name, byte[] content) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      zip.putNextEntry(new ZipEntry(name));
      zip.write(content);
    }
    return out.toByteArray();
  }

  private Path saved(String name, String content) {
    return Lanternfish.file(temp, name, content);
  }

  @Test
  void attachmentsOfAForwardedMailAreJoinedLikeFiles() throws IOException {
    Path key = Lanternfish.file(temp, "ingest.key", Lanternfish.keyPem(INGEST));
    String inner =
        mail(
            attached(
                "filename*=utf-8''antwort%20f%C3%BCr%20ingest.zip",
                zip("certs/reply.cer", INGEST.certificate().encoding())),
            attached("filename=\"../../issuing.crt\"", Lanternfish.pem(issuing(), root())));
    Path mail =
        saved(
            "fwd.eml",
            HEAD
                + "Content-Type: multipart/mixed; boundary=outer\n\n--outer\n\nSee below.\n"
                + "--outer\nContent-Type: message/rfc822\n\n"
                + inner
                + "--outer--\n");
    Path into = temp.resolve("ingest.p12");
    Run join = Run.of("join", key, mail, "--into", into, "--seal", "new=" + into + ".pass");
    assertEquals(0, join.code(), join.out() + join.err());
    assertTrue(join.out().contains("fwd.eml/antwort für ingest.zip/certs/reply.cer"), join.out());
    assertTrue(join.out().contains("fwd.eml/issuing.crt"), "it does not lead out of the mail");
    // A place inside can be named.
    Run inside = Run.of("survey", mail.resolve("issuing.crt"), "--json");
    assertEquals(1, inside.json().get("files").size(), inside.out());
  }

  @Test
  void aTextOfTheMailIsReadDecoded() {
    String body =
        text(Lanternfish.pem(INGEST.certificate(), root())).replace("=", "=3D").replace("+", "=2B");
    Path mail =
        saved(
            "body.eml",
            (HEAD
                    + "Content-Type: text/plain\nContent-Transfer-Encoding: quoted-printable\n\n"
                    + "Hello,\n\n"
                    + body)
                .replace("\n", "\r\n"));
    Run run = Run.of("survey", mail, "--json");
    assertEquals(0, run.code(), run.out());
    assertEquals(2, run.json().at("/files/0/holdings").size(), run.out());
    assertTrue(run.json().at("/files/0/path").asText().endsWith("body.eml/text-1"), run.out());
  }

  @Test
  void everyMailOfAMailboxIsLookedInto() {
    String one = "From desk@tidewater.example Thu Nov 26 05:00:00 2026\n";
    Path box =
        saved(
            "box.mbox",
            one
                + mail(attached("filename=root.crt", Lanternfish.pem(root())))
                + "\n"
                + one
                + mail(attached("filename=ingest.key", Lanternfish.keyPem(INGEST))));
    Run run = Run.of("survey", box, "--json");
    assertEquals(
        List.of(box + "/mail-1/root.crt", box + "/mail-2/ingest.key"),
        run.json().get("files").findValuesAsText("path"));
    assertTrue(run.findingIds().contains("key-by-mail"), run.out());
  }

  @Test
  void aMailThatIsDamagedOrHostileIsToldAndNothingOfItIsBelieved() throws IOException {
    StringBuilder deep = new StringBuilder(HEAD);
    for (int i = 0; i < 20_000; i++) {
      deep.append("Content-Type: multipart/mixed; boundary=b" + i + "\n\n--b" + i + "\n");
    }
    Run run = Run.of("survey", saved("deep.eml", deep.toString()));
    assertEquals(3, run.code());
    assertTrue(run.err().contains("more than 20 deep"), run.err());
    Run nothing = Run.of("survey", saved("none.eml", mail()));
    assertTrue(nothing.err().contains("a saved mail with 1 part"), nothing.err());
    byte[] bomb = zip("a.cer", zip("b.cer", zip("c.cer", zip("d.cer", new byte[99]))));
    Run nested = Run.of("survey", saved("bomb.eml", mail(attached("filename=a.zip", bomb))));
    assertEquals(3, nested.code(), nested.out());
    assertTrue(nested.err().contains("deep"), nested.err());
    // Cut off anywhere, it is told and never fails in another way.
    String whole = mail(attached("filename=root.crt", Lanternfish.pem(root())));
    for (int length = 50; length < whole.length(); length += 97) {
      Run cut = Run.of("survey", saved("cut.eml", whole.substring(0, length)));
      assertTrue(cut.code() == 0 || cut.code() == 1 || cut.code() == 3, cut.err());
    }
    assertFalse(Files.exists(temp.resolve("root.crt")), "nothing is unpacked");
  }
}
