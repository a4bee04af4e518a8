// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.finding.FindingKind;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.key.KeyKind;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A change does what was wished, and nothing else; what is not understood is not written over. */
class SideEffectsTest {
  private static final Credential INGEST =
      Lanternfish.server(Lanternfish.HOST, KeyKind.EC_P256).withoutRoot();

  @TempDir Path temp;

  private static Wish wish() {
    return Wish.of(INGEST).withHosts(List.of(HostName.parse(Lanternfish.HOST)));
  }

  private static Wish mutual() {
    return wish().withClients(Mode.MUTUAL, new ClientTrust(List.of(Lanternfish.root()), List.of()));
  }

  private ServerTls tls(String name) {
    Server server = Servers.named(name).orElseThrow();
    Machine machine = Machine.at(temp);
    return ServerTls.of(
        server, machine, server.at(machine, temp), Surveyor.create(), Clock.systemUTC());
  }

  private ServerChange plan(String name, Wish wish) {
    return tls(name).plan(wish, List.of());
  }

  private static boolean has(ServerChange change, FindingKind kind) {
    return change.findings().stream().anyMatch(finding -> finding.is(kind));
  }

  @ParameterizedTest
  @CsvSource({
    "listeners.ssl.1 = 5671, false",
    "listeners.ssl.other = 127.0.0.1:5671, false",
    "listeners.ssl.default = 5671, false",
    "'listeners.ssl.1 = 5671\nlisteners.ssl.2 = 5672', true",
    "ssl_options.depth = 2, false",
    "ssl_options.cacerts = x, true",
    "log.console = true, false"
  })
  void whatADescriptionDoesNotKnowOfTlsStopsAChange(String line, boolean stops) throws IOException {
    Files.writeString(temp.resolve("rabbitmq.conf"), line + "\nssl_options.verify = verify_peer\n");
    ServerChange change = plan("rabbitmq", wish());
    assertEquals(stops, has(change, FindingKind.SETTING_NOT_UNDERSTOOD), change.findings() + "");
    assertEquals(
        stops,
        tls("rabbitmq").read().findings().stream()
            .anyMatch(one -> one.is(FindingKind.SETTING_NOT_UNDERSTOOD)));
  }

  @Test
  void servicesThatInheritWhatChangesStopIt() throws IOException {
    Files.createDirectories(temp.resolve("tls"));
    Files.write(temp.resolve("tls/a.pem"), Lanternfish.pem(Lanternfish.INGEST.certificate()));
    Files.write(temp.resolve("tls/a.key"), Lanternfish.keyPem(Lanternfish.INGEST));
    Files.writeString(
        temp.resolve("main.cf"),
        """
        smtpd_tls_cert_file = tls/a.pem
        smtpd_tls_key_file = tls/a.key
        smtpd_tls_security_level = may
        """);
    String master =
        """
        smtp      inet  n - y - - smtpd
        submission inet n - y - - smtpd
        """;
    Files.writeString(temp.resolve("master.cf"), master);
    List<String> said =
        plan("postfix", mutual()).findings().stream()
            .filter(one -> one.is(FindingKind.CHANGES_MORE))
            .map(one -> one.statement())
            .toList();
    assertTrue(
        said.stream()
            .anyMatch(one -> one.startsWith("submission, another place of this server: who shows")),
        said.toString());
    Files.writeString(
        temp.resolve("master.cf"),
        master
            + """
                -osmtpd_tls_ask_ccert=no
                -o { smtpd_tls_req_ccert = no }
                -o smtpd_tls_security_level=may
                -o smtpd_tls_cert_file=tls/a.pem
                -o smtpd_tls_key_file=tls/a.key
              """);
    assertFalse(
        has(plan("postfix", mutual()), FindingKind.CHANGES_MORE),
        plan("postfix", mutual()).findings().toString());
    assertEquals(2, tls("postfix").read().places().size());
  }

  @Test
  void aFileThatAnotherPlaceNamesIsNotReplacedUnseen() throws IOException {
    Path tls = Files.createDirectory(temp.resolve("tls"));
    String site =
        "server { listen %d ssl; server_name %s; ssl_certificate /tls/"
            + Lanternfish.HOST
            + ".pem; ssl_certificate_key /tls/"
            + Lanternfish.HOST
            + ".key; }\n";
    Files.write(
        tls.resolve(Lanternfish.HOST + ".pem"), Lanternfish.pem(Lanternfish.INGEST.certificate()));
    Files.write(tls.resolve(Lanternfish.HOST + ".key"), Lanternfish.keyPem(Lanternfish.INGEST));
    String one = site.formatted(8443, Lanternfish.HOST);
    Files.writeString(
        temp.resolve("nginx.conf"),
        "events {}\nhttp {\n" + one + site.formatted(9443, "other.lanternfish.example") + "}\n");
    ServerChange change = plan("nginx", wish().withPort(8443).withFolder(tls));
    assertTrue(has(change, FindingKind.CHANGES_MORE), change.findings() + "");
    assertTrue(change.isRefused());
    Files.writeString(temp.resolve("nginx.conf"), "events {}\nhttp {\n" + one + "}\n");
    assertFalse(has(plan("nginx", wish().withFolder(tls)), FindingKind.CHANGES_MORE));
  }

  @Test
  void aRenewalLowersNoVersion() throws IOException {
    Files.writeString(
        temp.resolve("nginx.conf"),
        "events {}\nhttp {\nserver { listen 8443 ssl; server_name "
            + Lanternfish.HOST
            + "; ssl_protocols TLSv1.3; ssl_certificate a.pem; ssl_certificate_key a.key; }\n}\n");
    ServerChange change = plan("nginx", wish());
    assertEquals("TLSv1.3", change.place().place().protocols().orElseThrow());
  }

  @Test
  void secretsAreHiddenAndKnownSettingsAreShown() {
    List<String> lines =
        List.of(
            "tls-key-file-pass hunter2 and more",
            "default_pass = hunter2",
            "proxy_set_header Authorization \"Basic hunter2\";",
            "<Connector port=\"8443\" keystorePass='hunter2'/>",
            "datasource: jdbc:postgresql://ingest:hunter2@db/x",
            "api_key: hunter2",
            "  cookie_secret = 'hunter2';");
    String shown = String.join("\n", Passwords.masked(lines, List.of()));
    assertFalse(shown.contains("hunter2"), shown);
    assertTrue(shown.contains("keystorePass='****'"), shown);
    assertTrue(shown.contains("Authorization \"****\";"), shown);
    for (String plain :
        List.of(
            "ssl_certificate_key /etc/nginx/tls/ingest.key;",
            "proxy_pass http://127.0.0.1:8080;",
            "listen 8443 ssl;",
            "SSLVerifyClient require",
            "clientAuth=\"want\"")) {
      assertEquals(List.of(plain), Passwords.masked(List.of(plain), List.of()));
    }
    assertEquals(
        List.of("  listen 8443 ssl;", "  zone_words ****", "  # ..."),
        Passwords.around(
            List.of("  listen 8443 ssl;", "  zone_words hunter2;", "  # old: hunter2"), List.of()));
  }
}
