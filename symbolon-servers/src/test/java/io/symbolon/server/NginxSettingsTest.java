// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The settings of nginx: what is seen in them, and what would change. */
class NginxSettingsTest {
  private static final String SITE =
      """
      # The ingest service.
      server {
      \tlisten 127.0.0.1:8480 default_server; # plain
      \tserver_name ingest.lanternfish.example;
      \tlocation / {
      \t\tadd_header X-Depth "17 km";
      \t}
      }
      """;

  @TempDir Path temp;
  private final Server nginx = Servers.named("nginx").orElseThrow();
  private final Machine machine = Machine.here();

  private Installation install(String http, String site) {
    assertTrue(
        temp.resolve("sites").toFile().isDirectory() || temp.resolve("sites").toFile().mkdir());
    file(temp, "sites/ingest", site);
    file(temp, "nginx.conf", "events {}\nhttp {\n  " + http + "\n  include sites/*;\n}\n");
    return nginx.at(machine, temp);
  }

  private static Wish wish(Mode mode) {
    Wish wish =
        Wish.of(INGEST.withoutRoot())
            .withMode(mode)
            .withHosts(List.of(HostName.parse(HOST)))
            .withPort(8443)
            .withRedirectFrom(8480)
            .withStrictTransport(Duration.ofDays(365));
    return mode == Mode.ONE_WAY
        ? wish
        : wish.withClients(mode, new ClientTrust(List.of(root(), issuing()), List.of()));
  }

  private String changed(Proposal proposal) {
    return new String(
        proposal.changes().stream().filter(FileChange::settings).findFirst().orElseThrow().after(),
        StandardCharsets.UTF_8);
  }

  private void write(Proposal proposal) throws IOException {
    for (FileChange change : proposal.changes()) {
      Files.createDirectories(change.path().getParent());
      Files.write(change.path(), change.after());
    }
  }

  @Test
  void aServerWithoutSitesGetsOne() throws IOException {
    Installation there = install("include parts/*.conf;", "# none yet\n");
    assertThrows(
        SymbolonException.class,
        () -> nginx.propose(machine, there, wish(Mode.MUTUAL).withHosts(List.of())));
    Files.createDirectory(temp.resolve("parts"));
    Proposal proposal = nginx.propose(machine, there, wish(Mode.MUTUAL));
    FileChange site =
        proposal.changes().stream().filter(FileChange::settings).findFirst().orElseThrow();
    assertEquals(temp.resolve("parts/" + HOST + ".conf"), site.path());
    assertTrue(site.before().isEmpty());
    String text = changed(proposal);
    assertTrue(text.contains("listen 8443 ssl;\n    server_name " + HOST + ";"), text);
    assertTrue(text.contains("listen 8480;") && text.contains("return 301"), text);
    write(proposal);
    assertTrue(nginx.propose(machine, there, wish(Mode.MUTUAL)).isNothing());
    assertEquals(Mode.MUTUAL, nginx.read(machine, there).places().get(0).mode());
  }

  @Test
  void aFewLinesOfOneBlockChangeAndTheSecondTimeNone() throws IOException {
    Installation there = install("sendfile on;", SITE);
    Proposal first = nginx.propose(machine, there, wish(Mode.MUTUAL));
    assertEquals(
        """
        # The ingest service.
        server {
        \tlisten 127.0.0.1:8443 ssl; # plain
        \tserver_name ingest.lanternfish.example;
        \tlocation / {
        \t\tadd_header X-Depth "17 km";
        \t\tadd_header Strict-Transport-Security "max-age=31536000" always;
        \t}
        \tssl_certificate TLS/ingest.lanternfish.example.pem;
        \tssl_certificate_key TLS/ingest.lanternfish.example.key;
        \tssl_protocols TLSv1.2 TLSv1.3;
        \tssl_ciphers ECDHE+AESGCM:ECDHE+CHACHA20;
        \tssl_client_certificate TLS/ingest.lanternfish.example-clients.pem;
        \tssl_verify_client on;
        \tadd_header Strict-Transport-Security "max-age=31536000" always;
        }

        server {
        \tlisten 127.0.0.1:8480 default_server;
        \tserver_name ingest.lanternfish.example;
        \treturn 301 https://$host:8443$request_uri;
        }
        """,
        changed(first).replace(temp.resolve("tls").toString(), "TLS"));
    write(first);
    assertTrue(nginx.propose(machine, there, wish(Mode.MUTUAL)).isNothing());
    TlsPlace place = nginx.read(machine, there).places().get(0);
    assertEquals(Mode.MUTUAL, place.mode());
    assertEquals(List.of(new Endpoint("127.0.0.1", 8443, true)), place.endpoints());
    write(nginx.propose(machine, there, wish(Mode.OPTIONAL)));
    assertEquals(Mode.OPTIONAL, nginx.read(machine, there).places().get(0).mode());
    Proposal back = nginx.propose(machine, there, wish(Mode.ONE_WAY));
    assertFalse(changed(back).contains("client"), changed(back));
  }

  @Test
  void aBlockInClearTextThatAnswersFirstGetsTheRedirect() throws IOException {
    String tls =
        SITE.replace("8480 default_server", "8443 ssl")
            .replace("{\n\tl", "{\n\tssl_protocols x;\n\tl");
    Installation there = install("", SITE + tls);
    Proposal proposal = nginx.propose(machine, there, wish(Mode.ONE_WAY));
    assertEquals(1, changed(proposal).split("return 301 https://\\$host:8443", -1).length - 1);
    assertEquals(2, changed(proposal).split("server \\{", -1).length - 1, changed(proposal));
    write(proposal);
    assertTrue(nginx.propose(machine, there, wish(Mode.ONE_WAY)).isNothing());
  }

  /** Written otherwise, it is one listener, and its first server decides for the others. */
  @Test
  void theFirstServerOfAnAddressDecidesHoweverTheAddressIsWritten() {
    Installation there =
        install(
            "",
            """
            server {
              listen 0.0.0.0:8443 ssl;
              server_name ingest.lanternfish.example;
              ssl_protocols TLSv1.3;
              ssl_certificate first.pem;
              ssl_certificate_key first.key;
              ssl_verify_client on;
              ssl_client_certificate clients.pem;
            }
            server {
              listen 8443 ssl;
              server_name archive.lanternfish.example;
              ssl_protocols TLSv1.2;
              ssl_verify_client on;
              ssl_client_certificate others.pem;
            }
            server {
              listen 8443 ssl;
              server_name closed.lanternfish.example;
              ssl_reject_handshake on;
              ssl_certificate first.pem;
              ssl_certificate_key first.key;
            }
            """);
    List<TlsPlace> places = nginx.read(machine, there).places();
    assertEquals("TLSv1.3", places.get(1).protocols().orElseThrow());
    assertEquals(
        List.of(temp.resolve("first.pem")),
        places.get(1).files(FileRole.CERTIFICATE).stream().map(UsedFile::path).toList());
    assertEquals(
        List.of(temp.resolve("clients.pem")),
        places.get(1).files(FileRole.TRUST).stream().map(UsedFile::path).toList());
    assertEquals(Mode.REJECTING, places.get(2).mode());
  }

  @Test
  void eachFileThatTheSettingsTakeInIsJudgedBeforeTheProgramReadsIt() {
    Installation there = install("", SITE);
    Assumptions.assumeTrue(there.program().isPresent(), "nginx is not installed");
    assertEquals(
        List.of(temp.resolve("nginx.conf"), temp.resolve("sites/ingest")),
        nginx.check(machine, there).orElseThrow().command().reads());
    assertEquals(
        List.of(temp.resolve("nginx.conf"), temp.resolve("sites/ingest")),
        nginx.reload(machine, there, true).commands().get(0).reads());
    file(temp, "sites/broken", "server {");
    assertEquals(
        List.of(temp.resolve("nginx.conf")),
        nginx.check(machine, there).orElseThrow().command().reads());
  }

  @Test
  void lineEndsAndUnknownLettersStay() throws IOException {
    String site = SITE.replace("The ingest service", "Für alle").replace("\n", "\r\n");
    Installation there = install("", site);
    Files.write(temp.resolve("sites/ingest"), site.getBytes(StandardCharsets.ISO_8859_1));
    FileChange change =
        nginx.propose(machine, there, wish(Mode.ONE_WAY)).changes().stream()
            .filter(FileChange::settings)
            .findFirst()
            .orElseThrow();
    String after = new String(change.after(), StandardCharsets.ISO_8859_1);
    assertTrue(after.startsWith("# Für alle"), after);
    assertFalse(after.replace("\r\n", "").contains("\n"), after);
  }

  private List<String> seen(String http, String site) {
    return nginx.read(machine, install(http, site)).findings().stream()
        .map(Finding::id)
        .distinct()
        .toList();
  }

  private static String tls(String lines) {
    return "server { listen 8443 ssl; server_name a.example; ssl_certificate a.pem;"
        + " ssl_certificate_key a.key; ssl_protocols TLSv1.2 TLSv1.3; "
        + lines
        + " }\n";
  }

  @Test
  void everyTrapIsSeen() {
    assertEquals(List.of(), seen("", tls("")));
    assertEquals(List.of("clear-on-tls-port"), seen("", tls("").replace("8443 ssl", "8443")));
    assertEquals(
        List.of("old-protocols"), seen("", tls("").replace("TLSv1.2 TLS", "TLSv1 TLSv1.2 TLS")));
    assertEquals(
        List.of("new-protocol-off"),
        seen("", tls("").replace("ssl_protocols TLSv1.2 TLSv1.3; ", "")));
    assertEquals(List.of("verify-without-trust"), seen("", tls("ssl_verify_client on;")));
    assertEquals(List.of("trust-without-verify"), seen("", tls("ssl_client_certificate c.pem;")));
    assertEquals(
        List.of("optional-clients"),
        seen("", tls("ssl_client_certificate c.pem; ssl_verify_client optional;")));
    assertEquals(
        List.of(),
        seen(
            "",
            tls(
                "ssl_client_certificate c.pem; ssl_verify_client optional; if ($ssl_client_verify"
                    + " != SUCCESS) { return 403; }")));
    assertEquals(
        List.of("strict-transport-lost"),
        seen(
            "add_header Strict-Transport-Security \"max-age=1\";",
            tls("location / { add_header X-A b; }")));
    assertEquals(
        List.of("clear-text-open"),
        seen("", tls("") + "server { listen 80; server_name a.example; }"));
    assertEquals(
        List.of(),
        seen(
            "",
            tls("") + "server { listen 80; server_name a.example; return 301 https://$host/; }"));
    assertEquals(
        List.of("value-not-known"), seen("", tls("").replace("a.pem", "$ssl_server_name.pem")));
    // Of several servers on one address, the versions of the first count for all.
    String second = tls("").replace("a.example", "b.example");
    assertEquals(
        List.of("new-protocol-off", "setting-ignored"),
        seen("", tls("").replace(" TLSv1.3", "") + second));
    // The first is the one that says so, wherever it stands.
    String decides = tls("").replace("8443 ssl", "8443 ssl default_server");
    assertEquals(
        List.of("new-protocol-off", "setting-ignored"),
        seen("", second + decides.replace(" TLSv1.3", "")));
    // An address on which one line says ssl speaks TLS for all, and its first server has no pair.
    assertEquals(
        List.of("server-refuses", "new-protocol-off", "setting-ignored"),
        seen("", "server { listen 8443; server_name c.example; }\n" + tls("")));
    file(temp, "sites/ingest~", "server { listen 81; return 301 https://a.example/; }");
    assertEquals(List.of("backup-loaded"), seen("", tls("")));
  }

  @Test
  void aPlaceIsFoundAmongRedirectsAndPatterns() {
    Installation there =
        install(
            "ssl_certificate a.pem; ssl_certificate_key a.key;",
            """
            server { listen 80; location /.well-known/ { root x; } location / { return 301 https://$host/; } }
            server { listen 443 ssl; server_name ~^www ingest.lanternfish.example;
              if ($host ~* "^w{3}") { return 301 https://$1/; } }
            server { listen 443 ssl; server_name b.lanternfish.example; }
            """);
    Proposal proposal = nginx.propose(machine, there, wish(Mode.ONE_WAY));
    assertEquals("ingest.lanternfish.example", proposal.place().name());
    assertTrue(changed(proposal).contains("ssl_certificate_key " + temp), changed(proposal));
  }

  @Test
  void whatIsNotClearIsNotGuessed() {
    Installation two = install("", tls("") + tls("").replace("a.example", "b.example"));
    Wish unclear = wish(Mode.ONE_WAY);
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> nginx.propose(machine, two, unclear));
    assertEquals(Reason.AMBIGUOUS, e.reason());
    assertTrue(e.seen().contains("a.example; b.example"), e.seen());
    Installation shared =
        install("include shared.conf;", "server { listen 8443 ssl; include shared.conf; }");
    file(temp, "shared.conf", "ssl_certificate a.pem;\nssl_certificate_key a.key;\n");
    SymbolonException stop =
        assertThrows(SymbolonException.class, () -> nginx.propose(machine, shared, unclear));
    assertTrue(stop.seen().contains("shared.conf"), stop.seen());
    file(temp, "shared.conf", "include shared.conf;\n");
    assertThrows(SymbolonException.class, () -> nginx.read(machine, shared));
    file(temp, "shared.conf", "include a.conf; include a.conf;\n");
    for (char c = 'a'; c < 'z'; c++) {
      file(temp, c + ".conf", ("include " + (char) (c + 1) + ".conf;\n").repeat(2));
    }
    file(temp, "z.conf", "");
    SymbolonException many =
        assertThrows(SymbolonException.class, () -> nginx.read(machine, shared));
    assertEquals(Reason.LIMIT_PASSED, many.reason());
  }

  @Test
  void debiansOwnSettingsComeBackOctetForOctet() throws IOException {
    Path debian = Path.of("/etc/nginx/nginx.conf");
    org.junit.jupiter.api.Assumptions.assumeTrue(Files.isReadable(debian));
    Path copy = temp.resolve("nginx.conf");
    Files.copy(debian, copy);
    for (String folder : List.of("sites-available", "snippets", "conf.d", "modules-enabled")) {
      Files.createDirectories(temp.resolve(folder));
    }
    Files.copy(
        Path.of("/etc/nginx/sites-available/default"), temp.resolve("sites-available/default"));
    Files.createDirectory(temp.resolve("sites-enabled"));
    Files.createSymbolicLink(
        temp.resolve("sites-enabled/default"), temp.resolve("sites-available/default"));
    Files.copy(Path.of("/etc/nginx/mime.types"), temp.resolve("mime.types"));
    Files.writeString(copy, Files.readString(copy).replace("/etc/nginx/", temp + "/"));
    Proposal proposal = nginx.propose(machine, nginx.at(machine, temp), wish(Mode.ONE_WAY));
    for (FileChange change : proposal.changes()) {
      if (change.settings()) {
        String before = new String(change.before().orElseThrow(), StandardCharsets.UTF_8);
        assertArrayEquals(Files.readAllBytes(change.path()), change.before().get());
        // Every line that was there is there, in its order.
        List<String> kept = before.lines().toList();
        int at = 0;
        for (String line : new String(change.after(), StandardCharsets.UTF_8).lines().toList()) {
          at += at < kept.size() && line.equals(kept.get(at)) ? 1 : 0;
        }
        assertEquals(kept.size(), at, change.path().toString());
      }
    }
  }
}
