// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static org.junit.jupiter.api.Assertions.assertEquals;

import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Aspect;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.TlsPlace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Settings as companies have them: other spellings, addresses, variables, conditions. */
class CompanySettingsTest {
  @TempDir Path temp;

  /** Each place with its addresses, its mode, and what of it is not understood. */
  private List<String> read(String name, String file, String text) throws IOException {
    Files.writeString(temp.resolve(file), text);
    Server server = Servers.named(name).orElseThrow();
    Machine machine = Machine.at(temp);
    return server.read(machine, server.at(machine, temp)).places().stream()
        .map(CompanySettingsTest::told)
        .toList();
  }

  private static String told(TlsPlace place) {
    String addresses =
        place.endpoints().stream().map(Endpoint::written).collect(Collectors.joining(" "));
    String unknown =
        List.of(Aspect.values()).stream()
            .filter(aspect -> !place.isKnown(aspect))
            .map(aspect -> " ?" + aspect.name().toLowerCase(java.util.Locale.ROOT))
            .collect(Collectors.joining());
    String versions =
        place.versions().stream()
            .sorted()
            .map(version -> version.title().substring(4))
            .collect(Collectors.joining(" "));
    return (addresses
            + " "
            + place.mode().word()
            + (versions.isEmpty() ? "" : " " + versions)
            + unknown)
        .strip();
  }

  @Test
  void linesOfHaproxyUnderConditionsAndWithVariables() throws IOException {
    assertEquals(
        List.of(
            "*:9443 one-way 1.2 1.3 ?mode",
            "*:8443 passed-on 1.2 1.3",
            "one-way 1.2 1.3 ?addresses",
            "*:10443 one-way 1.2",
            "10.0.0.7:443 one-way 1.2 1.3"),
        read(
            "haproxy",
            "haproxy.cfg",
            """
            global
              setenv ADDR 10.0.0.7
              ssl-default-bind-options ssl-min-ver TLSv1.2 no-tls-tickets
            .if defined(WITH_ADMIN)
            frontend admin
              bind :9443 ssl crt c.pem
            .endif
            frontend pass
              mode tcp
              bind :8443
              use_backend x if { req.ssl_sni -i a.lanternfish.example }
            frontend web
              bind "${NOWHERE}:443" ssl crt c.pem no-tlsv12
              bind :10443 ssl crt c.pem ssl-min-ver TLSv1.2 ssl-max-ver TLSv1.2
              bind "${ADDR}:443" ssl crt c.pem
            """));
  }

  @Test
  void aListenerOfRabbitmqByAnyNameAndAddress() throws IOException {
    String tls =
        """
        ssl_options.cacertfile = ca.pem
        ssl_options.certfile = c.pem
        ssl_options.keyfile = c.key
        ssl_options.verify = verify_peer
        ssl_options.fail_if_no_peer_cert = true
        """;
    assertEquals(
        List.of("127.0.0.1:5671 mutual"),
        read("rabbitmq", "rabbitmq.conf", "listeners.ssl.1 = 127.0.0.1:5671\n" + tls));
    assertEquals(
        List.of("*:5672 mutual ?addresses"),
        read(
            "rabbitmq", "rabbitmq.conf", "listeners.ssl.1 = 5671\nlisteners.ssl.2 = 5672\n" + tls));
  }

  @Test
  void addressesAndSpellingsOfDatabases() throws IOException {
    assertEquals(
        List.of("10.0.0.5:6379 [::1]:6379 mutual"),
        read(
            "redis",
            "redis.conf",
            """
            BIND 10.0.0.5 -::1
            Port 0
            TLS-PORT 6379
            TLS-Cert-File c.pem
            tls-key-file c.key
            tls-ca-cert-file ca.pem
            """));
    assertEquals(
        List.of("10.1.2.3:3307 one-way ?certificate"),
        read(
            "mariadb",
            "mariadb.cnf",
            """
            [mysqld]
            bind-address = 10.1.2.3
            port=3307
            [mariadb-10.11]
            loose-ssl-cert=c.pem
            ssl_key=c.key
            """));
  }

  /** A server of version 10.11 does not read [mariadb-10.5], and reads [mariadb-10.11]. */
  @Test
  void sectionsOfMariadbForAVersionAreNotGuessed() throws IOException {
    String pair = "ssl_cert=c.pem\nssl_key=c.key\n";
    assertEquals(
        List.of("*:3306 one-way"),
        read("mariadb", "mariadb.cnf", "[mysqld]\n" + pair + "[mariadbd]\n" + pair));
    assertEquals(
        List.of("*:3306 one-way ?certificate"),
        read("mariadb", "mariadb.cnf", "[mysqld]\n" + pair + "[mariadb-10.5]\n" + pair));
  }

  @Test
  void namesInValuesOfPostfixAndWhatCountsInstead() throws IOException {
    String settings =
        """
        tls_dir = $config_directory/tls
        smtpd_tls_cert_file = $tls_dir/c.pem
        smtpd_tls_key_file = ${tls_dir}/c.key
        smtpd_tls_security_level = may
        """;
    assertEquals(List.of("*:25 one-way"), read("postfix", "main.cf", settings));
    Server postfix = Servers.named("postfix").orElseThrow();
    Machine machine = Machine.at(temp);
    assertEquals(
        List.of("tls/c.pem", "tls/c.key"),
        postfix.read(machine, postfix.at(machine, temp)).places().get(0).files().stream()
            .map(file -> file.path().toString())
            .map(path -> path.substring(path.lastIndexOf("tls/")))
            .toList());
    assertEquals(
        List.of("*:25 one-way ?certificate"),
        read("postfix", "main.cf", settings.replace("${tls_dir}", "${where?there}")));
    assertEquals(
        List.of("*:25 one-way ?certificate"),
        read("postfix", "main.cf", settings + "smtpd_tls_chain_files = /x/y.pem\n"));
  }

  @Test
  void whatNginxPassesOnOrRejects() throws IOException {
    assertEquals(
        List.of("*:443 passed-on", "*:8443 rejecting", "*:8443 one-way"),
        read(
            "nginx",
            "nginx.conf",
            """
            events {}
            stream { server { listen 443; ssl_preread on; proxy_pass 127.0.0.1:9; } }
            http {
              server { listen 8443 ssl default_server; ssl_reject_handshake on; }
              server { listen 8443 ssl; server_name a.lanternfish.example;
                ssl_certificate c.pem; ssl_certificate_key c.key; }
            }
            """));
  }

  private List<String> found(String name, String file, String text) throws IOException {
    Path path = temp.resolve(file);
    Files.createDirectories(path.getParent());
    Files.writeString(path, text);
    Server server = Servers.named(name).orElseThrow();
    Machine machine = Machine.at(temp);
    return server.read(machine, server.at(machine, temp)).findings().stream()
        .map(finding -> finding.id())
        .distinct()
        .toList();
  }

  @Test
  void aCertificateOfAnybodyIsNoProof() throws IOException {
    String site =
        "server { listen 443 ssl; ssl_protocols TLSv1.2 TLSv1.3; ssl_certificate c.pem;"
            + " ssl_certificate_key c.key; ssl_verify_client %s; ssl_client_certificate ca.pem;"
            + " return 200 $ssl_client_verify; }";
    for (String word : List.of("optional_no_ca", "optional")) {
      assertEquals(
          word.equals("optional_no_ca") ? List.of("any-certificate") : List.of(),
          found("nginx", "nginx.conf", "events {}\nhttp { " + site.formatted(word) + " }\n"));
    }
    assertEquals(
        List.of("any-certificate"),
        found(
            "httpd",
            "apache2.conf",
            """
            LoadModule ssl_module mod_ssl.so
            Listen 8443
            <VirtualHost *:8443>
              SSLEngine on
              SSLCertificateFile c.pem
              SSLVerifyClient optional_no_ca
            </VirtualHost>
            """));
  }

  @Test
  void pathsAndPasswordsOfJetty() throws IOException {
    Files.createDirectories(temp.resolve("start.d"));
    String settings =
        """
        jetty.sslContext.keyStorePath=etc/a.p12
        jetty.sslContext.keyStorePassword=OBF:1vny1zlo1x8e1vnw1vn61x8g1zlu1vn4
        jetty.sslContext.keyManagerPassword=of-the-key
        """;
    read("jetty", "start.d/ssl.ini", settings);
    Server jetty = Servers.named("jetty").orElseThrow();
    Machine machine = Machine.at(temp);
    var store = jetty.read(machine, jetty.at(machine, temp)).places().get(0).files().get(0);
    assertEquals(temp.resolve("etc/a.p12"), store.path());
    assertEquals(
        List.of("storepwd", "of-the-key"),
        store.passwords().stream().map(one -> new String(one.reveal())).toList());
  }

  @Test
  void theFirstLineOfPostgresqlThatMatchesCounts() throws IOException {
    String hba =
        """
        local all all peer
        %shost all all 10.0.0.0/8 scram-sha-256
        host all all fd00::/8 scram-sha-256
        """;
    Files.writeString(
        temp.resolve("postgresql.conf"),
        """
        ssl = on
        hba_file = '/pg_hba.conf'
        ssl_ca_file = '/ca.pem'
        port = 5433
        """);
    for (String before : List.of("", "hostnossl all all all reject\n")) {
      Files.writeString(temp.resolve("pg_hba.conf"), hba.formatted(before));
      Server server = Servers.named("postgresql").orElseThrow();
      Machine machine = Machine.at(temp);
      long open =
          server.read(machine, server.at(machine, temp)).findings().stream()
              .filter(one -> one.id().equals("clear-text-open"))
              .count();
      assertEquals(before.isEmpty() ? 2 : 0, open, before);
    }
  }
}
