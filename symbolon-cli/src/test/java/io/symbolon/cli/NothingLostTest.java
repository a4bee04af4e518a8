// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.cli.session.Session;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.security.interfaces.ECPublicKey;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What fails, fails before anything is signed; what is told, is told to its end. */
class NothingLostTest {
  @TempDir Path folder;
  private Path root;
  private String unlock;

  @BeforeEach
  void authority() {
    root = folder.resolve("root");
    unlock = "file=" + folder.resolve("root.pass");
    Run found =
        Run.of(
            "authority",
            "found",
            root,
            "--subject",
            "CN=Root",
            "--seal",
            "new=" + folder.resolve("root.pass"));
    assertEquals(0, found.code(), found.err());
  }

  private int issued() {
    return Run.of("authority", "list", root, "--json").json().at("/authority/issued").size();
  }

  private Run issue(Object... more) {
    List<Object> all =
        new ArrayList<>(List.of("authority", "issue", "--by", root, "--unlock", unlock));
    all.addAll(List.of(more));
    return Run.of(all.toArray());
  }

  @Test
  void aCredentialThatCanNotBeWrittenIsNotOnRecord() {
    file(folder, "umlaut.pass", "ölig-ballast-17\n");
    String umlaut = "file=" + folder.resolve("umlaut.pass");
    String host = "a.lanternfish.example";
    for (String into : List.of("a.p12", "a.der", "no such folder/a.p12")) {
      Run run = issue("--host", host, "--into", folder.resolve(into), "--seal", umlaut);
      assertTrue(run.code() == 2 || run.code() == 4, into + run.code() + run.err());
      assertFalse(run.err().contains("lost"), run.err());
    }
    assertEquals(0, issued());
  }

  @Test
  void aListThatCanNotBeWrittenIsNotOnRecord() {
    Path list = file(folder, "list.txt", "buoy-1\nbuoy-2\n");
    file(folder, "umlaut.pass", "ölig-ballast-17\n");
    Run run =
        issue(
            "--list",
            list,
            "--into",
            folder.resolve("many"),
            "--seal",
            "file=" + folder.resolve("umlaut.pass"));
    assertEquals(2, run.code(), run.err());
    assertEquals(0, issued());
    assertFalse(Files.exists(folder.resolve("many")));
  }

  @Test
  void aReplyIsWrittenAndRecordedOrNeither() throws IOException {
    Path request = folder.resolve("a.csr");
    Run.of(
        "request",
        "--host",
        "a.lanternfish.example",
        "--into",
        request,
        "--key-into",
        folder.resolve("a.key"),
        "--unsealed");
    Path closed = Files.createDirectory(folder.resolve("closed"));
    Files.setPosixFilePermissions(closed, PosixFilePermissions.fromString("rwxrwxrwx"));
    for (String into : List.of("r.b64", "r.p12", "missing/r.pem")) {
      Run run =
          Run.of(
              "authority",
              "sign",
              request,
              "--by",
              root,
              "--unlock",
              unlock,
              "--into",
              folder.resolve(into));
      assertTrue(run.code() == 2 || run.code() == 4, into + run.err());
    }
    assertEquals(0, issued());
  }

  @ParameterizedTest
  @ValueSource(strings = {"env=EMPTY", "file=empty.pass", "ask"})
  void theEmptyPasswordSealsOnlyWhereItIsSaid(String source) {
    file(folder, "empty.pass", "\nsecond line\n");
    String seal = source.replace("file=", "file=" + folder + "/");
    Path into = folder.resolve("a.p12");
    Object[] command = {
      "authority",
      "issue",
      "--by",
      root,
      "--unlock",
      unlock,
      "--host",
      "a.lanternfish.example",
      "--into",
      into,
      "--seal"
    };
    Run run = Run.with(Map.of("EMPTY", ""), List.of("", ""), with(command, seal));
    assertEquals(2, run.code(), run.err());
    assertTrue(run.err().contains("is empty"), run.err());
    assertFalse(Files.exists(into));
    assertEquals(0, Run.with(Map.of(), List.of(), with(command, "empty")).code());
    assertEquals(1, issued());
  }

  private static Object[] with(Object[] command, Object last) {
    Object[] all = Arrays.copyOf(command, command.length + 1);
    all[command.length] = last;
    return all;
  }

  @ParameterizedTest
  @CsvSource({"UTF-8,EFBBBF", "UTF-16LE,FFFE", "UTF-16BE,FEFF", "ISO-8859-1,''", "UTF-8,''"})
  void aPasswordFileIsUnderstoodHoweverAnEditorWroteIt(String charset, String mark)
      throws IOException {
    byte[] text = "bällast-17\r\nmore\r\n".getBytes(charset);
    byte[] front = HexFormat.of().parseHex(mark);
    byte[] content = Arrays.copyOf(front, front.length + text.length);
    System.arraycopy(text, 0, content, front.length, text.length);
    file(folder, "made.pass", "bällast-17");
    Path key = folder.resolve("a.pem");
    issue(
        "--host",
        "a.lanternfish.example",
        "--into",
        key,
        "--seal",
        "file=" + folder + "/made.pass");
    file(folder, "edited.pass", content);
    Run run = Run.of("survey", key, "--unlock", "file=" + folder.resolve("edited.pass"));
    assertTrue(run.out().contains("fits: proven by a signature"), run.out() + run.err());
  }

  @Test
  void aFolderOfPasswordsIsASource() throws IOException {
    Path list = file(folder, "list.txt", "buoy-1\nbuoy-2\nbuoy-3\n");
    Run many =
        issue(
            "--list",
            list,
            "--into",
            folder.resolve("many"),
            "--seal",
            "new=" + folder.resolve("words") + "/",
            "--no-line-end");
    assertEquals(0, many.code(), many.err());
    assertEquals(26, Files.size(folder.resolve("words/buoy-2.pass")));
    Run survey =
        Run.of(
            "survey",
            folder.resolve("many"),
            "--unlock",
            "file=" + folder.resolve("words") + "/",
            "--json");
    assertTrue(survey.code() <= 1, survey.err());
    assertEquals(3, survey.json().get("files").size());
    assertFalse(survey.findingIds().contains("locked"), survey.out());
  }

  @Test
  void outputThatIsLostIsNoSuccess() {
    StringBuilder err = new StringBuilder();
    PrintStream full =
        new PrintStream(
            new OutputStream() {
              @Override
              public void write(int octet) throws IOException {
                throw new IOException("No space left on device");
              }
            },
            false,
            StandardCharsets.UTF_8);
    PrintStream told =
        new PrintStream(
            new OutputStream() {
              @Override
              public void write(int octet) {
                err.append((char) octet);
              }
            },
            false,
            StandardCharsets.UTF_8);
    Session session =
        new Session(
            InputStream.nullInputStream(),
            full,
            told,
            Map.of(),
            false,
            false,
            question -> Optional.empty(),
            Clock.systemUTC());
    assertEquals(4, new Cli(session).run("authority", "list", root.toString(), "--json"));
    assertTrue(err.toString().contains("not all of the output was written"), err.toString());
  }

  @Test
  void newKeysCarryTheirPublicPoint() throws Exception {
    for (String kind : List.of("ec-p256", "ec-p384", "ec-p521")) {
      Path key = folder.resolve(kind + ".pem");
      Run run =
          issue("--host", "a.lanternfish.example", "--into", key, "--unsealed", "--key-type", kind);
      assertEquals(0, run.code(), run.err());
      Path sec1 = folder.resolve(kind + "-sec1.pem");
      Run convert =
          Run.of("convert", key, "--part", "key", "--into", sec1, "--unsealed", "--key-as", "sec1");
      assertEquals(0, convert.code(), convert.err());
      byte[] pkcs8 = octets(key, "PRIVATE KEY");
      byte[] inner = octets(sec1, "EC PRIVATE KEY");
      var pair =
          (ECPublicKey)
              ((X509Certificate)
                      CertificateFactory.getInstance("X.509")
                          .generateCertificate(
                              new ByteArrayInputStream(octets(key, "CERTIFICATE"))))
                  .getPublicKey();
      byte[] encoded = pair.getEncoded();
      int size = 2 * ((pair.getParams().getCurve().getField().getFieldSize() + 7) / 8) + 1;
      byte[] point = Arrays.copyOfRange(encoded, encoded.length - size, encoded.length);
      for (byte[] der : List.of(pkcs8, inner)) {
        assertArrayEquals(point, Arrays.copyOfRange(der, der.length - size, der.length), kind);
      }
    }
  }

  private static byte[] octets(Path file, String label) throws IOException {
    String text = Files.readString(file);
    String begin = "-----BEGIN " + label + "-----";
    int from = text.indexOf(begin) + begin.length();
    return Base64.getMimeDecoder()
        .decode(text.substring(from, text.indexOf("-----END " + label, from)));
  }
}
