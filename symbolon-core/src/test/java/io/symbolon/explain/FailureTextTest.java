// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

/** What stops servers at their start, as they write it, and logs with several failures. */
class FailureTextTest {
  private static List<String> ids(String text) {
    return FailureText.explain(text, "log").stream().map(one -> one.finding().id()).toList();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "java.io.FileNotFoundException: /srv/ingest.p12 (No such file or directory)|file-absent",
        "cannot load certificate \"/srv/chain.pem\": BIO_new_file() failed (SSL: error:80000002:system"
            + " library::No such file or directory)|file-absent",
        "FATAL:  could not load private key file \"/srv/ingest.key\": Permission denied"
            + "|file-not-readable",
        "java.io.IOException: Alias name [tomcat] does not identify a key entry|alias-not-found",
        "java.io.IOException: Invalid keystore format|other-format-wanted",
        "java.io.IOException: toDerInputStream rejects tag type 45|other-format-wanted",
        "PEM_read_bio_X509_AUX() failed (SSL: error:0480006C:PEM routines::no start line)"
            + "|other-format-wanted",
        "java.lang.IllegalArgumentException: Password must not be null|password-absent",
        "AH02577: Init: SSLPassPhraseDialog builtin is not supported: needs a passphrase"
            + "|password-absent",
        "nginx: [emerg] unknown directive \"ssl_certificat\" in /srv/nginx.conf:7|setting-wrong",
        "nginx: [emerg] invalid value \"TLSv1.4\" in /srv/nginx.conf:9|setting-wrong",
        "Syntax error on line 3 of /srv/site.conf: SSLProtocol: Illegal protocol 'TLSv1.9'"
            + "|setting-wrong",
        "sslv3 alert handshake failure:SSL alert number 40|handshake-failed",
        "verify error:num=19:self-signed certificate in certificate chain|root-not-trusted",
        "Certificate Verification, depth 1: CRL has expired|revocation-list-expired",
        // As the servers said it that were started with such files.
        "nginx: [emerg] cannot load certificate \"/srv/chain.pem\": PEM_read_bio_X509_AUX() failed"
            + " (SSL: error:04800066:PEM routines::bad end line)|pem-not-read",
        "FATAL:  could not load server certificate file \"server.crt\": bad end line|pem-not-read",
        "error:0A080009:SSL routines::PEM lib AH02562: Failed to configure certificate"
            + "|server-files-not-used",
        "main: TLS init def ctx failed: -1|server-files-not-used",
        "[ERROR] SSL error: Unable to get certificate|server-files-not-used",
        "Error: Unable to load server certificate \"/srv/chain.pem\". Check certfile."
            + "|server-files-not-used",
        "[ALERT] : config : 'bind :443' : inconsistencies between private key and certificate loaded"
            + " '/srv/chain.pem'.|key-does-not-fit",
        "imap-login: Error: Failed to initialize SSL server context: Can't load SSL private key:"
            + " There is no valid PEM private key.|other-format-wanted",
        "Enter PEM pass phrase:|password-absent",
        "open() \"/srv/www/favicon.ico\" failed (2: No such file or directory)|''"
      })
  void aLineIsExplained(String line, String id) {
    assertEquals(id.isEmpty() ? List.of() : List.of(id), ids(line));
  }

  @Test
  void aLineThatOnlySaysItFailedGivesWayToTheReasonBesideIt() {
    assertEquals(
        List.of("pem-not-read"),
        ids(
            """
            1795673360: Error: Unable to load server certificate "/srv/chain.pem". Check certfile.
            1795673360: OpenSSL Error[0]: error:04800066:PEM routines::bad end line
            """));
    assertEquals(
        List.of("key-does-not-fit"),
        ids(
            """
            smtpd: warning: cannot get RSA private key from file "/srv/key.pem": disabling TLS support
            smtpd: warning: TLS library problem: error:05800074:x509 routines::key values mismatch:
            """));
  }

  @Test
  void theDeepestCauseOfAnExceptionCountsAndNotItsFrame() {
    String trace =
        """
        SEVERE [main] Failed to initialize component [Connector["https-8443"]]
        org.example.LifecycleException: Protocol handler initialization failed
        \tat org.example.Connector.init(Connector.java:10)
        Caused by: java.lang.IllegalArgumentException: Error creating SSLContext
        \tat org.example.Endpoint.create(Endpoint.java:20)
        \t... 12 more
        Caused by: java.io.IOException: keystore password was incorrect
        \t... 20 more
        """;
    List<FailureText.Explanation> told = FailureText.explain(trace, "log");
    assertEquals(1, told.size(), told.toString());
    assertEquals("password-wrong", told.get(0).finding().id());
    assertEquals(7, told.get(0).line());
  }

  @Test
  void whatIsKnownHidesNothingThatIsNot() {
    assertEquals(
        List.of("file-absent", "not-explained"),
        ids(
            """
            FileNotFoundException: /srv/a.p12
            TLS engine 7 failed for a reason of its own
            TLS engine 8 failed for a reason of its own
            """));
  }

  static Stream<Arguments> said() throws IOException {
    List<Arguments> all = new ArrayList<>();
    String kind = "";
    try (InputStream in =
        Objects.requireNonNull(FailureTextTest.class.getResourceAsStream("said.txt"))) {
      String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      for (String line : text.lines().toList()) {
        if (line.matches("\\[[a-z-]+\\]")) {
          kind = line.substring(1, line.length() - 1);
        } else if (!line.isBlank() && !line.startsWith("#")) {
          all.add(Arguments.of(kind, line));
        }
      }
    }
    return all.stream();
  }

  @ParameterizedTest
  @MethodSource
  void said(String kind, String line) {
    assertEquals(kind.equals("nothing") ? List.of() : List.of(kind), ids(line));
  }

  @Test
  void aFileIsToldOfByTheFramesOfItsException() {
    String trace =
        """
        Traceback (most recent call last):
          File "/srv/buoy.py", line 7, in <module>
            context.load_verify_locations(cafile="/srv/trust.pem")
        FileNotFoundError: [Errno 2] No such file or directory
        """;
    assertEquals(List.of("file-absent"), ids(trace));
    assertEquals(List.of(), ids(trace.replace("load_verify_locations(cafile", "open(name")));
  }
}
