// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.fixture.Lanternfish;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.List;
import java.util.Map;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ExplainCommandTest {
  @TempDir Path temp;

  private interface Action {
    void run() throws Exception;
  }

  /** The stack trace that the platform really prints. */
  private static String trace(Action action) {
    StringWriter text = new StringWriter();
    try {
      action.run();
    } catch (Exception e) {
      e.printStackTrace(new PrintWriter(text, true));
    }
    assertFalse(text.toString().isEmpty(), "it did not fail");
    return text.toString();
  }

  @Test
  void aWrongPasswordAndAnEmptyTruststoreAreExplainedFromTheirTraces() throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    Path file = temp.resolve("store.p12");
    try (var out = java.nio.file.Files.newOutputStream(file)) {
      store.store(out, "right".toCharArray());
    }
    String wrong = trace(() -> KeyStore.getInstance(file.toFile(), "wrong".toCharArray()));
    Run run = Run.with(Map.of("STDIN", wrong), List.of(), "explain", "--json");
    assertEquals(1, run.code());
    assertEquals(List.of("password-wrong"), run.findingIds());
    String empty =
        trace(
            () -> {
              TrustManagerFactory factory = TrustManagerFactory.getInstance("PKIX");
              factory.init(store);
              ((javax.net.ssl.X509TrustManager) factory.getTrustManagers()[0])
                  .checkServerTrusted(
                      new java.security.cert.X509Certificate[] {
                        Lanternfish.INGEST.certificate().toX509Certificate()
                      },
                      "RSA");
            });
    assertEquals(
        List.of("trust-empty"),
        Run.with(Map.of("STDIN", empty), List.of(), "explain", "--json").findingIds());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "2026/11/23 [crit] SSL_do_handshake() failed (SSL: error:0A000417:SSL routines::sslv3 alert"
            + " illegal parameter)|handshake-failed",
        "LOG:  could not accept SSL connection: no shared cipher|no-common-cipher-suite",
        "FATAL:  connection requires a valid client certificate|no-client-certificate",
        "tlsv1 alert protocol version|no-common-protocol",
        "[emerg] SSL_CTX_use_PrivateKey(\"k\") failed (key values mismatch)|key-does-not-fit",
        "curl: (60) SSL: no alternative certificate subject name matches target|host-not-covered",
        "error 10 at 0 depth: certificate has expired|expired",
      })
  void linesOfOtherProgramsAreExplained(String line, String id) {
    String log = "INFO started\n" + line + "\nINFO and on it goes\n" + line + "\n";
    Path file = Lanternfish.file(temp, "server.log", log);
    Run run = Run.of("explain", file);
    assertEquals(1, run.code(), run.err());
    assertTrue(run.out().contains(id), run.out());
    assertTrue(run.out().contains("line 2"), run.out());
  }

  @Test
  void whatHasNoFailureAndWhatIsNoTextEndsWell() {
    byte[] noise = new byte[200_000];
    new java.util.Random(1).nextBytes(noise);
    Path file = Lanternfish.file(temp, "noise", noise);
    assertTrue(Run.of("explain", file).code() <= 1);
    Path calm = Lanternfish.file(temp, "calm.log", "INFO TLS handshake done\n");
    Run run = Run.of("explain", calm);
    assertEquals(0, run.code());
    assertTrue(run.out().contains("No failure of TLS was found"), run.out());
    assertEquals(3, Run.of("explain", temp.resolve("absent")).code());
  }

  @Test
  void whatALogHidesIsShownAndDoesNothing() {
    Path file =
        Lanternfish.file(temp, "evil.log", "SSL error \u001B[2J\u202E certificate has expired\n");
    Run run = Run.of("explain", file);
    assertFalse(run.out().contains("\u001B") || run.out().contains("\u202E"), run.out());
  }

  @Test
  void whatWasNotReadOfALargeLogIsTold() throws Exception {
    Path file = temp.resolve("large.log");
    try (var log =
        java.nio.channels.FileChannel.open(
            file,
            java.nio.file.StandardOpenOption.CREATE,
            java.nio.file.StandardOpenOption.WRITE)) {
      log.write(
          java.nio.ByteBuffer.wrap(
              "\nSSL error: certificate has expired\n"
                  .getBytes(java.nio.charset.StandardCharsets.US_ASCII)),
          65L << 20);
    }
    Run run = Run.of("explain", file);
    assertEquals(1, run.code());
    assertTrue(run.out().contains("the last 64 MiB were read"), run.out());
    assertTrue(run.out().contains("line 2"), run.out());
    assertEquals(1, Run.of("explain", file, "--json").json().get("notRead").size());
  }
}
